<script setup lang="ts">
import { computed } from 'vue'
import type { Op, Plan, SolarArray, SunView } from '@/shared/api/types'
import { useSession } from '@/shared/session/session'
import { amount, kwh, number, percent, watts } from '@/shared/units/format'
import Fig from '@/shared/ui/Fig.vue'
import { setArray } from '../model'

/** What one array brings in this outage, what its input says to it, and every way to wire as many panels. */
const props = defineProps<{ array: SolarArray; found: SunView['arrays'][number]; plan: Plan }>()
const emit = defineEmits<{ change: [Op[], string] }>()
const { outage } = useSession()

const words = computed(() => props.found.limits.filter((l) => !l.ok))
/** The best few that fit, the one there is, and the nearest that does not, with what forbids it. */
const ways = computed(() => {
  const fit = props.found.ways.filter((w) => !w.bad.length)
  const not = props.found.ways.filter((w) => w.bad.length)
  const shown = [...fit.slice(0, 3), ...not.slice(0, 1)]
  const now = props.found.ways.find(isNow)
  return now && !shown.includes(now) ? [now, ...shown] : shown
})
const isNow = (w: SunView['arrays'][number]['ways'][number]) =>
  w.series === props.array.series && w.parallel === props.array.parallel
function use(w: SunView['arrays'][number]['ways'][number]) {
  const ops = setArray(props.plan, props.array, { series: w.series, parallel: w.parallel })
  if (ops.length) emit('change', ops, `${props.array.name}: ${w.series} in series × ${w.parallel}`)
}
function settle(tick: string) {
  emit('change', [{ doc: props.plan.id, op: 'replace', path: '/ticks', value: [...props.plan.ticks, tick] }], 'Settled')
}
</script>

<template>
  <div class="found">
    <h2>{{ array.name }}</h2>
    <p class="sum">
      <Fig :text="watts(found.rated_w)" /> of panels supply <b><Fig :text="kwh(found.day_wh)" /></b> on the first whole
      day of {{ outage?.name
      }}<template v-if="found.best_w"
        >, <Fig :text="watts(found.best_w)" /> at best, <Fig :text="percent(found.best_w / found.rated_w)" /> of the
        label</template
      >.
      <span class="soft"
        >The simple method (rated W × sun hours × 0.75) gives <Fig :text="kwh(found.simple_wh)" />.</span
      >
    </p>
    <div
      v-for="l in words"
      :key="l.id"
      class="word"
      :class="l.severity"
      :role="l.severity === 'caution' ? undefined : 'alert'"
    >
      {{ l.sentence }}
      <el-button v-if="l.tick" class="link" @click="settle(l.tick)">settled</el-button>
    </div>
    <table aria-label="Ways to wire">
      <thead>
        <tr>
          <th scope="col">Ways to wire {{ array.series * array.parallel }}</th>
          <th scope="col" class="num">Cold</th>
          <th scope="col" class="num">Hot</th>
          <th scope="col" class="num">Short circuit</th>
          <th scope="col" class="num">Taken</th>
          <th scope="col">Cable</th>
          <th scope="col"><span class="sr">What to do</span></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="w in ways" :key="`${w.series}x${w.parallel}`" :class="{ now: isNow(w), bad: w.bad.length }">
          <th scope="row">
            {{ w.series }} in series<template v-if="w.parallel > 1"> × {{ w.parallel }}</template>
            <small v-if="w.left_over">{{ w.left_over }} left over</small>
          </th>
          <td class="num"><Fig :text="`${number(w.cold_v)} V`" /></td>
          <td class="num"><Fig :text="`${number(w.hot_v)} V`" /></td>
          <td class="num"><Fig :text="`${amount(w.isc_a)} A`" /></td>
          <td class="num"><Fig :text="`${number(w.takes_w)} W`" /></td>
          <td class="soft">{{ w.cable }}</td>
          <td>
            <span v-if="w.bad.length" class="why">{{ w.bad[0] }}</span>
            <span v-else-if="isNow(w)" class="soft">as now</span>
            <el-button v-else class="btn tiny" @click="use(w)">Wire it this way</el-button>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.sum {
  margin: 3px 0 8px;
}
.word {
  margin: 0 0 6px;
  padding: 4px 10px;
  border-left: 4px solid var(--line-strong);
  font-size: 13px;
}
.word.refuse,
.word.broken {
  border-color: var(--dark);
  background: var(--sheet);
}
table {
  width: 100%;
  margin-bottom: 14px;
  border-collapse: collapse;
}
thead th {
  padding: 2px 8px 4px 0;
  color: var(--soft);
  font-weight: 400;
  font-size: 12.5px;
  text-align: left;
}
.num,
thead th.num {
  text-align: right;
}
td,
tbody th {
  padding: 4px 8px 4px 0;
  border-top: 1px solid var(--line);
  font-weight: 400;
  text-align: left;
  vertical-align: top;
}
tbody th small {
  display: block;
  color: var(--soft);
}
.now {
  background: var(--sheet);
}
.now th {
  box-shadow: inset 5px 0 0 var(--stored);
  padding-left: 11px;
  font-weight: 650;
}
.bad td {
  color: var(--soft);
}
.why {
  display: block;
  max-width: 260px;
  font-size: 12.5px;
  line-height: 1.25;
}
@media (max-width: 760px) {
  .found {
    overflow-x: auto;
  }
}
</style>

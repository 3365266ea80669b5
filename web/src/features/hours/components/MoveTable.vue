<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Move, Op, Verdict } from '@/shared/api/types'
import { edit } from '@/shared/session/session'
import { amount, hoursText, money } from '@/shared/units/format'
import Fig from '@/shared/ui/Fig.vue'

/** Everything that would lengthen the hours, each computed by running it: by hours, or by hours for the money. */
const props = defineProps<{ verdict: Verdict }>()
const by = ref<'hours' | 'money'>('hours')
const moves = computed(() => {
  const list = props.verdict.moves.filter((m) => m.kind === 'widening')
  if (by.value === 'hours') return list
  // What costs nothing comes first, then what buys most for its price.
  return [...list].sort((a, b) => (b.per_100 ?? Infinity) - (a.per_100 ?? Infinity) || b.hours_gained - a.hours_gained)
})
const gain = (m: Move) =>
  m.never_dark ? `over ${hoursText(props.verdict.simulated_h)}` : `+${hoursText(m.hours_gained)}`
const attempt = (m: Move) => edit(m.label, m.ops as Op[], true)
</script>

<template>
  <section v-if="moves.length" aria-label="Ways to last longer" class="moves">
    <div class="head">
      <h2>Ways to last longer</h2>
      <span class="segments" role="group" aria-label="Order">
        <el-button :aria-pressed="by === 'hours'" @click="by = 'hours'">by hours</el-button>
        <el-button :aria-pressed="by === 'money'" @click="by = 'money'">by hours for the money</el-button>
      </span>
    </div>
    <table>
      <tbody>
        <tr v-for="m in moves" :key="m.id">
          <td class="num">
            <b><Fig :text="gain(m)" /></b>
          </td>
          <th scope="row">{{ m.label }}</th>
          <td class="num">
            <Fig v-if="m.price && Number(m.price)" :text="money(m.price, m.currency)" />
          </td>
          <td class="num soft">
            <template v-if="m.per_100 !== null"
              ><Fig :text="`${amount(m.per_100)} h`" /> for each 100 {{ m.currency }}</template
            >
          </td>
          <td><el-button class="btn tiny" :aria-label="`Try: ${m.label}`" @click="attempt(m)">Try</el-button></td>
        </tr>
      </tbody>
    </table>
    <p class="soft small">
      Imbuto ran each one through this outage. Each fits every limit and can be undone. Gains don’t add up: try one, and
      Imbuto works out the others again.
    </p>
  </section>
</template>

<style scoped>
.head {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
  align-items: center;
}
.segments {
  margin: 0;
}
table {
  margin-top: 4px;
  border-collapse: collapse;
}
td,
th {
  padding: 3px 16px 3px 0;
  border-bottom: 1px solid var(--line);
  font-weight: 400;
  text-align: left;
}
.num {
  text-align: right;
  white-space: nowrap;
}
p {
  margin: 5px 0 0;
}
@media (max-width: 760px) {
  .moves {
    overflow-x: auto;
  }
}
@media print {
  .moves {
    display: none;
  }
}
</style>

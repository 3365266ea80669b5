<script setup lang="ts">
import { computed, defineAsyncComponent, onUnmounted, ref, watch } from 'vue'
import { answer, api } from '@/shared/api/client'
import type { BuyView, FrontierJob, Op, Plan } from '@/shared/api/types'
import { followJob, isBusy, stopJob } from '@/shared/job'
import { edit, useSession } from '@/shared/session/session'
import { hoursText, kwh, money } from '@/shared/units/format'
import Fig from '@/shared/ui/Fig.vue'

/** Everything that can be bought for this plan, run through this outage: what nothing beats, and what is beaten by what. */
const props = defineProps<{ budget: number | null; plan: Plan }>()
const FrontierChart = defineAsyncComponent(() => import('./FrontierChart.vue'))
const { state, pair, served, problem } = useSession()
const job = ref<FrontierJob | null>(null)
const busy = computed(() => isBusy(job.value))
const found = computed(() => job.value?.result ?? null)

async function begin() {
  stop()
  const more = props.budget === null ? {} : { budget: props.budget }
  const params = { path: { home_id: state.value?.id ?? '' }, query: { ...pair.value, ...more } }
  try {
    job.value = await answer(api.POST('/api/homes/{home_id}/frontier', { params }))
    await follow(job.value.id)
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
}
async function follow(id: string) {
  const params = { path: { job_id: id } }
  await followJob(
    () => answer(api.GET('/api/frontier/{job_id}', { params })),
    (next) => {
      if (job.value?.id !== id) return false
      job.value = next
      if (next.problem) problem.value = next.problem
      return true
    },
  )
}
function stop() {
  if (job.value && busy.value) void stopJob(job.value.id)
  job.value = null
}
onUnmounted(stop)
// Another plan, outage, budget or edit: what was found no longer holds.
watch([() => ({ ...pair.value }), served, () => props.budget], () => job.value && stop())

const hours = (b: BuyView) => (b.low_h === null ? `over ${hoursText(found.value?.horizon_h ?? 0)}` : hoursText(b.low_h))
const take = (b: BuyView) => edit(`Buy: ${b.name}`, b.ops as Op[])
const sentence = computed(() => {
  const f = found.value
  if (!f) return ''
  const reach = f.reach
    ? `The cheapest that reaches ${hoursText(f.goal_h)} 9 times in 10 is ${f.reach.name}, ${money(f.reach.price, f.currency)} to buy.`
    : `Nothing in the catalogue reaches ${hoursText(f.goal_h)} 9 times in 10 with these circuits.`
  if (props.budget === null) return reach
  const b = f.for_budget
  return `${reach} ${b ? `For ${money(props.budget, f.currency)} the longest is ${b.name}: ${hours(b)}.` : `Nothing that fits costs ${money(props.budget, f.currency)} or less.`}`
})
</script>

<template>
  <section class="frontier">
    <div class="head">
      <h2>What to buy</h2>
      <el-button v-if="!busy" class="btn" :class="{ strong: !found }" @click="begin">
        {{ found ? 'Look again' : 'Run everything that can be bought' }}
      </el-button>
      <template v-else>
        <progress :value="job?.part ?? 0" max="1" aria-label="Combinations tried"></progress>
        <el-button class="btn" @click="stop">Stop</el-button>
      </template>
    </div>
    <p v-if="!found && !busy" class="soft small">
      Imbuto runs this outage with every station that fits, alone or linked, with each number of modules, and with
      several sizes of solar.
    </p>
    <template v-if="found">
      <p class="say">{{ sentence }}</p>
      <div class="both">
        <FrontierChart :view="found" :budget="budget" />
        <div class="buys">
          <table aria-label="Best choices">
            <thead>
              <tr>
                <th scope="col">Best choices</th>
                <th scope="col" class="num">To buy</th>
                <th scope="col" class="num">9 in 10</th>
                <th scope="col"><span class="sr">What to do</span></th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="b in found.best" :key="b.name" :class="{ reaches: b.reaches, dear: !b.within }">
                <th scope="row">
                  {{ b.name }}
                  <small class="soft"
                    ><Fig :text="kwh(b.stored_wh)" />{{ b.room ? `, room for ${b.room} more` : ', full'
                    }}<template v-if="b.may_trip">, may trip: measure a start first</template></small
                  >
                </th>
                <td class="num"><Fig :text="money(b.price, found.currency)" /></td>
                <td class="num">
                  <b><Fig :text="hours(b)" /></b>
                </td>
                <td><el-button class="btn tiny" :aria-label="`Take ${b.name}`" @click="take(b)">Take</el-button></td>
              </tr>
            </tbody>
          </table>
        </div>
      </div>
      <details>
        <summary>{{ found.tried }} tried, {{ found.misfit }} break a limit, the rest are beaten; for example</summary>
        <ul>
          <li v-for="b in found.beaten" :key="b.name">
            {{ b.name }}, <Fig :text="money(b.price, found.currency)" />, <Fig :text="hours(b)" />: beaten by
            {{ b.beaten_by }}
          </li>
        </ul>
      </details>
    </template>
  </section>
</template>

<style scoped>
.head {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 14px;
  align-items: center;
}
progress {
  width: 220px;
  accent-color: var(--stored);
}
.say {
  margin: 8px 0;
  padding: 7px 12px;
  border-left: 6px solid var(--stored);
  background: var(--sheet);
}
.both {
  display: grid;
  grid-template-columns: 430px 1fr;
  gap: 20px;
}
.buys {
  max-height: 290px;
  overflow: auto;
}
table {
  width: 100%;
  border-collapse: collapse;
}
th,
td {
  padding: 3px 10px 3px 0;
  border-bottom: 1px solid var(--line);
  font-weight: 400;
  text-align: left;
  vertical-align: top;
}
thead th {
  position: sticky;
  top: 0;
  background: var(--paper);
  color: var(--soft);
  font-size: 12.5px;
}
small {
  display: block;
}
.num {
  text-align: right;
  white-space: nowrap;
}
.reaches th {
  padding-left: 8px;
  border-left: 4px solid var(--stored);
}
.dear {
  opacity: 0.6;
}
details {
  margin-top: 6px;
  color: var(--soft);
  font-size: 13px;
}
summary {
  cursor: pointer;
}
ul {
  margin: 4px 0;
}
.both > * {
  min-width: 0;
}
@media (max-width: 1000px) {
  .both {
    grid-template-columns: 1fr;
  }
}
</style>

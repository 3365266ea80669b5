<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { CurveView, EverydayPolicy, Window } from '@/shared/api/types'
import { freshId } from '@/shared/ids'
import { useHomeQuery } from '@/shared/session/homeQuery'
import { edit, useSession } from '@/shared/session/session'
import { kwh, money, number, percent } from '@/shared/units/format'
import Fig from '@/shared/ui/Fig.vue'
import WindowsEditor from '@/shared/ui/fields/WindowsEditor.vue'
import CircuitHours from './components/CircuitHours.vue'
import DayFlows from './components/DayFlows.vue'
import MonthBars from './components/MonthBars.vue'
import HoldCurve from './components/HoldCurve.vue'
import RunsAlone from './components/RunsAlone.vue'
import WorthMoving from './components/WorthMoving.vue'
import ReplayMeter from './components/ReplayMeter.vue'
import EverydayHead from './EverydayHead.vue'
import { BY, STANDING, USES, USE_SAYS, withHold } from './policy'
import KeptInput from '@/shared/ui/fields/KeptInput.vue'

/** A plan's ordinary week: its modes, its hold, and what a year of it comes to. */
const { state, plan, pair, outage } = useSession()
const year = useHomeQuery('/api/homes/{home_id}/everyday', { query: pair, enabled: () => !!pair.value.plan })
const view = year.view
const curves = useHomeQuery('/api/homes/{home_id}/everyday/curve', {
  query: pair,
  enabled: () => !!view.value?.uses.length,
})
const curve = curves.view
const policy = computed(() => (plan.value?.everyday as EverydayPolicy | null) ?? STANDING)
const floor = computed(() => view.value?.stop_level ?? plan.value?.floor ?? 0.1)

function set(label: string, change: Partial<EverydayPolicy>) {
  if (!plan.value) return
  const value = { ...policy.value, ...change }
  edit(label, [{ doc: plan.value.id, op: 'replace', path: '/everyday', value }])
}
const drag = ref(policy.value.hold)
watch(
  () => policy.value.hold,
  (hold) => (drag.value = hold),
)
function hold(to: number) {
  if (!plan.value || Math.abs(to - policy.value.hold) < 0.001) return
  edit(`Keep ${Math.round(100 * to)}% for outages`, [
    { doc: plan.value.id, op: 'replace', path: '/everyday', value: withHold(policy.value, to) },
  ])
}
/** What the curve says while it is dragged: its nearest point. */
const dragged = computed(() => {
  const off = (p: CurveView['points'][number]) => Math.abs(p.hold - drag.value)
  return [...(curve.value?.points ?? [])].sort((a, b) => off(a) - off(b))[0] ?? null
})
/** What a year saves, at the share that is being dragged to. */
const saved = computed(() =>
  dragged.value && Math.abs(drag.value - policy.value.hold) > 0.004 ? dragged.value.saving : view.value?.saving,
)
function addMode() {
  const id = freshId('mode', Object.keys(policy.value.modes))
  const mode = {
    id,
    name: 'Evening',
    use: 'store' as const,
    windows: [{ start_h: 17, end_h: 22, days: 'all' as const }],
    called: '',
    months: [],
  }
  set('Add a mode', { modes: { ...policy.value.modes, [id]: mode } })
}
function change(id: string, what: object) {
  const modes = { ...policy.value.modes }
  const now = modes[id]
  if (!now) return
  modes[id] = { ...now, ...what }
  set(`Mode ${modes[id].name}`, { modes })
}
function drop(id: string) {
  const modes = { ...policy.value.modes }
  delete modes[id]
  set('Remove a mode', { modes })
}
const month = ref(0)
const MONTHS = ['January', 'April', 'July', 'October']
const SHORT = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec']
const csv = computed(() => {
  const asked_ = new URLSearchParams({ ...pair.value }).toString()
  return `/api/homes/${encodeURIComponent(state.value?.id ?? '')}/everyday.csv?${asked_}`
})
/** No lower than what is kept for outages; 0 for never. */
function switchedBack(to: number) {
  set('Switched back to the grid', { back_at: to > 0 ? Math.max(to, policy.value.hold) : null })
}
const byHand = computed(() => view.value?.by.includes('hand') ?? false)
const needs = computed(() => view.value?.uses ?? [])
</script>

<template>
  <div class="place everyday">
    <EverydayHead><a v-if="view?.uses.length" class="btn" :href="csv" download>The year as CSV</a></EverydayHead>
    <p v-if="year.isError.value" role="alert">{{ year.error.value?.message }}</p>
    <p v-else-if="!view" class="soft" role="status">Running the year…</p>
    <template v-else-if="!view.uses.length">
      <h2>Nothing to run on ordinary days</h2>
      <p>{{ view.why }}</p>
    </template>
    <div v-else class="columns wraps-late" :aria-busy="year.isFetching.value">
      <section class="scroll week fields">
        <p class="soft">{{ view.why }}</p>
        <label for="e-rest">At all other times</label>
        <el-select id="e-rest" :model-value="policy.rest" @change="set('All other hours', { rest: $event })">
          <el-option v-for="u in needs" :key="u" :value="u" :label="USES[u]" />
        </el-select>
        <p class="soft small">{{ USE_SAYS[policy.rest] }}</p>
        <label for="e-called">The station’s own name for this</label>
        <KeptInput
          id="e-called"
          :value="policy.called"
          maxlength="80"
          @keep="set('Name on the device', { called: $event })"
        />
        <article v-for="m in policy.modes" :key="m.id" class="mode">
          <p>
            <KeptInput
              :value="m.name"
              maxlength="80"
              label="Mode name"
              @keep="change(m.id, { name: $event || m.name })"
            />
            <el-button class="link small" :aria-label="`Remove ${m.name}`" @click="drop(m.id)">remove</el-button>
          </p>
          <el-select :model-value="m.use" :aria-label="`What ${m.name} does`" @change="change(m.id, { use: $event })">
            <el-option v-for="u in needs" :key="u" :value="u" :label="USES[u]" />
          </el-select>
          <label :for="`called-${m.id}`">The station’s own name for this</label>
          <KeptInput :id="`called-${m.id}`" :value="m.called" maxlength="80" @keep="change(m.id, { called: $event })" />
          <WindowsEditor
            :model-value="m.windows as Window[]"
            @update:model-value="$event.length ? change(m.id, { windows: $event }) : drop(m.id)"
          />
        </article>
        <el-button class="btn" @click="addMode">Add a mode</el-button>
        <CircuitHours :circuits="policy.circuits" @change="(label, circuits) => set(label, { circuits })" />
        <label for="e-hold">Keep for outages: {{ Math.round(100 * drag) }}%</label>
        <el-slider
          id="e-hold"
          :model-value="Math.round(100 * drag)"
          :min="Math.round(100 * floor)"
          :max="95"
          aria-label="Keep for outages (%)"
          :format-tooltip="(v: number) => `${v}%`"
          @update:model-value="drag = Number($event) / 100"
          @change="hold(Number($event) / 100)"
        />
        <p class="small">
          <Fig :text="kwh(1000 * view.hold_kwh)" /> above the stop level: <Fig :text="view.hold_h || '0 h'" /> of use by
          the loads that stay on.
        </p>
        <details>
          <summary>At the share kept for outages, and charging</summary>
          <label for="e-resume">Use starts again at (%)</label>
          <el-input-number
            id="e-resume"
            :model-value="Math.round(100 * policy.resume)"
            :min="Math.round(100 * policy.hold)"
            :max="100"
            @change="set('Use starts again', { resume: Number($event) / 100 })"
          />
          <label for="e-refill">The grid charges it up to (%)</label>
          <el-input-number
            id="e-refill"
            :model-value="Math.round(100 * policy.refill)"
            :min="Math.round(100 * policy.hold)"
            :max="100"
            @change="set('The grid fills it up to', { refill: Number($event) / 100 })"
          />
          <label for="e-charge">Charging from the wall (W), 0 for the maximum</label>
          <el-input-number
            id="e-charge"
            :model-value="policy.charge_w ?? 0"
            :min="0"
            :max="50000"
            :step="100"
            @change="set('Charging', { charge_w: Number($event) || null })"
          />
          <small class="soft"
            >Charge slowly on ordinary days, and fast before a storm within the circuit’s limit.</small
          >
          <el-checkbox :model-value="policy.no_grid" @change="set('No grid at all', { no_grid: !!$event })">
            There is no grid here
          </el-checkbox>
        </details>
        <label for="e-by">Switched</label>
        <el-select
          id="e-by"
          :model-value="view.by.includes(policy.by) ? policy.by : view.by[0]"
          @change="set('Who switches', { by: $event })"
        >
          <el-option v-for="b in view.by" :key="b" :value="b" :label="BY[b]" />
        </el-select>
        <template v-if="byHand">
          <label for="e-who">Who switches it</label>
          <KeptInput
            id="e-who"
            :value="policy.who"
            maxlength="80"
            placeholder="anyone at home"
            @keep="set('Who switches it', { who: $event })"
          />
          <label for="e-misses">Days per month when no one switches it</label>
          <el-input-number
            id="e-misses"
            :model-value="policy.misses"
            :min="0"
            :max="31"
            @change="set('Days when no one switches it', { misses: Number($event) })"
          />
          <label for="e-back">Switched back to the grid at (%), 0 for never</label>
          <el-input-number
            id="e-back"
            :model-value="Math.round(100 * (policy.back_at ?? 0))"
            :min="0"
            :max="100"
            @change="switchedBack(Number($event) / 100)"
          />
          <small class="soft"
            >Someone awake switches it back at that charge. Without it, its loads are off from the charge you keep for
            outages until the end of the hours.</small
          >
        </template>
        <label for="e-out">Folding panels are set up outside</label>
        <el-select id="e-out" :model-value="policy.sets_out" @change="set('Folding panels', { sets_out: $event })">
          <el-option value="never" label="never on ordinary days" />
          <el-option value="weekend" label="on weekends" />
          <el-option value="weekday" label="on weekdays" />
          <el-option value="all" label="every day" />
        </el-select>
        <label for="e-exports">Agreement to export to the grid</label>
        <KeptInput
          id="e-exports"
          :value="policy.exports"
          maxlength="200"
          placeholder="none: no export"
          @keep="set('Agreement to export', { exports: $event })"
        />
      </section>
      <section class="scroll comes">
        <div class="figures">
          <div v-if="view.unserved_kwh > 0.05" data-test="unserved">
            <strong><Fig :text="kwh(1000 * view.unserved_kwh)" /></strong>
            <span>per year not served: these loads are off until someone comes and switches</span>
          </div>
          <div data-test="saving">
            <strong><Fig :text="saved == null ? 'no tariff yet' : money(Math.abs(saved), view.currency)" /></strong>
            <span
              >{{
                saved != null && saved < -0.5
                  ? 'more per year than the same house pays without the plan'
                  : 'saved per year, compared with the same house without the plan and with the same loads served'
              }}{{ Object.keys(policy.circuits).length ? ', but for circuits that are off at set hours' : '' }}</span
            >
          </div>
          <div v-if="view.ready">
            <strong
              ><Fig
                :text="percent(dragged && Math.abs(drag - policy.hold) > 0.004 ? dragged.chance : view.ready.chance)"
            /></strong>
            <span v-if="view.ready.not_counted" data-test="not-counted">
              of outages reach {{ number(view.ready.goal_h) }} h. {{ view.ready.not_counted }}
            </span>
            <span v-else>
              of outages, at any hour of the year, reach {{ number(view.ready.goal_h) }} h (±
              {{ percent(view.ready.error) }}), without a generator; worst in {{ SHORT[view.ready.worst - 1] }}
            </span>
          </div>
          <div>
            <strong><Fig :text="`${number(view.cycles)} cycles`" /></strong>
            <span
              >full cycles per year<template v-if="view.worn != null"
                >, wear {{ money(view.worn, view.currency) }}</template
              ></span
            >
          </div>
        </div>
        <HoldCurve v-if="curve?.points.length" :curve="curve" :hold="drag" :currency="view.currency" />
        <p v-if="curve?.advice && !view.ready?.not_counted" data-test="advice">
          <b>{{ curve.advice }}</b>
        </p>
        <p v-if="curve?.asked != null" class="small soft">
          {{ curve.asked_why }} For that, keep {{ percent(curve.asked) }}.
        </p>
        <p class="segments" role="group" aria-label="Month">
          <el-button v-for="(m, i) in MONTHS" :key="m" :aria-pressed="month === i" @click="month = i">{{
            m
          }}</el-button>
        </p>
        <DayFlows v-if="view.days[month]" :day="view.days[month]!" />
        <MonthBars v-if="view.months.length" :months="view.months" />
        <p class="small">
          {{ view.over }} {{ view.unused }} {{ view.lacking }}
          <template v-if="view.switches">
            It changes over {{ number(view.switches) }} times per year, with a blink each time.
          </template>
          <template v-if="view.back_h >= 1">
            For {{ number(view.back_h) }} h per year it is at the share you keep, and the grid powers the loads.
          </template>
          <template v-if="view.move">Worth running at another time: {{ view.move }}.</template>
          <template v-if="view.ready">
            After an outage it takes {{ view.ready.again }} until it has the share kept for outages again.
            <template v-if="view.ready.missed < view.ready.chance - 0.0005">
              If no one switches on one day per month, {{ percent(view.ready.missed) }} of outages reach the goal.
            </template>
          </template>
        </p>
        <details v-if="view.before && view.after">
          <summary>The bills by hand</summary>
          <p>Without the plan: {{ view.before.by_hand }} {{ view.currency }}</p>
          <p>With the plan: {{ view.after.by_hand }} {{ view.currency }}</p>
          <p class="soft">By {{ view.tariff }}. Wear isn’t part of the saving, but it matters when you choose modes.</p>
        </details>
        <details>
          <summary>Month by month</summary>
          <table class="sums">
            <thead>
              <tr>
                <th><span class="sr">What</span></th>
                <th>house (kWh)</th>
                <th>on the station</th>
                <th>bought for it</th>
                <th>sun</th>
                <th>not used</th>
                <th>exported</th>
                <th>met by sun</th>
                <th>at dusk</th>
                <th>at dawn</th>
                <th>not served</th>
                <th>nights it runs out</th>
                <th>generator (h)</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="m in view.months" :key="m.month">
                <td>{{ SHORT[m.month - 1] }}</td>
                <td v-for="(v, i) in [m.house, m.fed, m.bought, m.sun, m.thrown, m.given]" :key="i">{{ number(v) }}</td>
                <td>{{ percent(m.by_sun) }}</td>
                <td>{{ percent(m.dusk) }}</td>
                <td>{{ percent(m.dawn) }}</td>
                <td>{{ number(m.unserved, 1) }}</td>
                <td>{{ m.failing }}</td>
                <td>{{ number(m.engine_h) }}</td>
              </tr>
            </tbody>
          </table>
        </details>
        <WorthMoving />
        <RunsAlone />
        <ReplayMeter />
        <p v-if="outage" class="small soft">Readiness is for the goal of {{ outage.name }}.</p>
      </section>
    </div>
  </div>
</template>

<style scoped>
.week {
  display: flex;
  flex: 0 0 356px;
  flex-direction: column;
  gap: 5px;
  padding-right: 6px;
}
.week > * {
  flex: none;
}
.week label {
  margin-top: 6px;
  font-size: 13.5px;
}
.mode {
  display: flex;
  flex-direction: column;
  gap: 6px;
  padding: 6px 10px;
  border: 1px solid var(--line);
  border-radius: 8px;
  background: var(--sheet);
}
.mode p {
  display: flex;
  gap: 8px;
  justify-content: space-between;
  margin: 0;
}
.comes {
  flex: 1;
}
summary {
  min-height: 28px;
  cursor: pointer;
}
p {
  margin: 4px 0;
}
@media (width < 900px) {
  .week {
    flex: 1 1 100%;
  }
  .comes {
    flex: 1 1 100%;
  }
}
</style>

<script setup lang="ts">
import { useMediaQuery, useThrottleFn } from '@vueuse/core'
import { computed, nextTick, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { freshId } from '@/shared/ids'
import { escape } from '@/shared/session/patch'
import { useHomeQuery } from '@/shared/session/homeQuery'
import { edit, useSession } from '@/shared/session/session'
import { clock, hoursText, number, percent } from '@/shared/units/format'
import { setTheme, theme } from '@/shared/theme'
import Fig from '@/shared/ui/Fig.vue'
import BackAgain from './components/BackAgain.vue'
import BeginOutage from './components/BeginOutage.vue'
import GaugeLines from './components/GaugeLines.vue'
import ReachHour from './components/ReachHour.vue'
import SimulatedStation from './components/SimulatedStation.vue'
import SoundAlarms from './components/SoundAlarms.vue'
import StoreVessel from './components/StoreVessel.vue'
import SwitchOffFirst from './components/SwitchOffFirst.vue'
import SwitchNow from './components/SwitchNow.vue'
import { useHomeClock } from './homeClock'
import StormHead from './StormHead.vue'

/** The outage that is on: when it goes dark, what the gauges said, and what they teach. */
const { state, home, plan, pair, verdict, station, offline, problem } = useSession()
const query = useHomeQuery('/api/homes/{home_id}/live', {
  query: () => ({ outage: pair.value.outage }),
  enabled: () => !!pair.value.outage,
  every: 60_000,
})
const view = query.view
const live = computed(() => home.value?.live ?? null)
const sources = computed(() => Object.values(plan.value?.sources ?? {}).filter((s) => !s.after))
const names = computed(() =>
  Object.fromEntries([
    ...(verdict.value?.parts ?? []).map((p) => [p.source, p.name]),
    ...(view.value?.stores ?? []).map((s) => [s.source, s.name]),
  ]),
)
const nameOf = (id: string) =>
  names.value[id] ?? (sources.value.length === 1 ? (verdict.value?.rail.station ?? id) : id)

const small = useMediaQuery('(max-width: 760px)')
/** The foot's “Note” leads to the line that takes a gauge. */
const route = useRoute()
watch(
  [() => route.hash, () => !!view.value],
  async ([hash, ready]) => {
    if (hash !== '#note' || !ready) return
    await nextTick()
    const line = document.querySelector<HTMLInputElement>('#note input[aria-label="Gauge line"]')
    line?.scrollIntoView({ block: 'center' })
    line?.focus()
  },
  { immediate: true },
)
const { now, shown } = useHomeClock(computed(() => view.value?.now))
// What a watched station shows is worked out anew as it comes in, though not more often than can be read.
watch(
  station,
  useThrottleFn(() => void query.refetch(), 2500, true),
)
/** Ending is asked once: it stops the alarms and the clocks of food and oxygen. */
const ending = ref(false)
function back() {
  const live_ = live.value
  if (!live_) return
  const id = freshId(`out ${live_.began.slice(0, 10)}`, Object.keys(home.value?.lived ?? {}))
  const ended = now() > live_.began ? now() : live_.began
  ending.value = false
  edit('Power is back', [
    { doc: 'home', op: 'add', path: `/lived/${escape(id)}`, value: { ...live_, ended } },
    { doc: 'home', op: 'replace', path: '/live', value: null },
  ])
}
/** Undo passes over the end of an outage, so it is taken back here. */
function stillOut(id: string) {
  const over = home.value?.lived?.[id]
  if (!over) return
  edit('The power is still out', [
    { doc: 'home', op: 'remove', path: `/lived/${escape(id)}` },
    { doc: 'home', op: 'replace', path: '/live', value: { ...over, ended: null } },
  ])
}
const nameOfLoad = (id: string) => home.value?.loads[id]?.name ?? id
const alarms = computed(
  () =>
    `/api/homes/${encodeURIComponent(state.value?.id ?? '')}/live/alarms.ics?outage=${encodeURIComponent(pair.value.outage)}`,
)
const copied = ref(false)
/** A browser gives its clipboard to pages by https and to this computer alone. */
const canCopy = typeof navigator !== 'undefined' && !!navigator.clipboard
async function copy() {
  try {
    await navigator.clipboard.writeText(view.value?.text ?? '')
    copied.value = true
  } catch {
    problem.value = 'This browser didn’t copy the text. Select it, and copy it by hand.'
  }
}
const asMessage = computed(() => `sms:?&body=${encodeURIComponent(view.value?.text ?? '')}`)
const asMail = computed(
  () => `mailto:?subject=${encodeURIComponent('Power outage')}&body=${encodeURIComponent(view.value?.text ?? '')}`,
)
/** The first few by name, what matters most first. */
const someOf = (names: string[]) =>
  names.length > 7 ? `${names.slice(0, 6).join(', ')} and ${names.length - 6} more` : names.join(', ')
const counted = (n: number) => `${n} ${n === 1 ? 'line' : 'lines'}`
const lived = computed(() => Object.entries(home.value?.lived ?? {}).reverse())
</script>

<template>
  <div class="place live">
    <header v-if="small && live" class="out">
      <div>
        <h1>Power is out</h1>
        <p v-if="view?.live" class="soft">since {{ clock(view.live.began) }}, <Fig :text="view.lasted" /></p>
      </div>
      <el-button class="btn" @click="ending = true">Power is back…</el-button>
    </header>
    <StormHead v-else>
      <el-button v-if="live" class="btn" @click="ending = true">Power is back…</el-button>
    </StormHead>
    <el-dialog v-model="ending" title="Is the power back?" width="min(420px, 92vw)">
      <p v-if="live">
        This ends the outage that started {{ clock(live.began) }}, and turns its alarms off. All notes stay in the
        logbook.
      </p>
      <template #footer>
        <el-button class="btn" @click="ending = false">Not yet</el-button>
        <el-button class="btn strong" @click="back">End the outage</el-button>
      </template>
    </el-dialog>
    <p v-if="query.isError.value" role="alert">{{ query.error.value?.message }}</p>
    <section v-if="!live" class="none">
      <template v-if="view?.back">
        <BackAgain :back="view.back" />
        <p>
          <el-button class="btn" @click="stillOut(view.back.lived)">The power is still out</el-button>
        </p>
        <GaugeLines
          :notes="home?.lived?.[view.back.lived]?.notes ?? {}"
          :path="`/lived/${escape(view.back.lived)}`"
          :stores="[]"
          :sources="sources"
          :name-of="nameOf"
          :now="now"
        />
      </template>
      <h2>Is the power out?</h2>
      <p>Start the outage now, or some hours late. What {{ plan?.name }} promises is kept as it was.</p>
      <BeginOutage :sources="sources" :name-of="nameOf" />
      <p v-if="!sources.length" class="soft">
        This plan has no station yet, so there are no hours yet. Choose one under Power source.
      </p>
      <SimulatedStation :sources="sources" :name-of="nameOf" />
      <template v-if="lived.length">
        <h3>Past outages</h3>
        <ul class="lived">
          <li v-for="[id, x] in lived" :key="id">
            <b>{{ clock(x.began) }}, {{ x.began.slice(0, 10) }}</b> to {{ x.ended ? clock(x.ended) : '?' }},
            {{ counted(Object.keys(x.notes ?? {}).length) }} noted
            <span v-for="(p, key) in x.promises" :key="key" class="soft">
              · promised <Fig :text="p.hours == null ? 'no end expected' : hoursText(p.hours)" />
            </span>
          </li>
        </ul>
      </template>
    </section>
    <template v-else-if="view?.live">
      <p v-if="theme === 'paper'" class="soft lamp">
        Is it dark around you?
        <el-button class="link" @click="setTheme('lamp')">Use the lamp theme</el-button>
      </p>
      <SoundAlarms v-if="!small" :stores="view.stores" :acts="view.acts" :now="now" />
      <p v-if="!small || offline || view.live.back_by" class="since">
        {{ clock(shown) }}<template v-if="offline"> · as of the server’s last response</template>. Out since
        {{ clock(view.live.began) }}, <Fig :text="view.lasted" />, on {{ view.plan_name }}
        <template v-if="view.live.back_by">
          · expected back by {{ clock(view.live.back_by)
          }}<template v-if="view.spare"
            >, <strong><Fig :text="view.spare" /></strong
          ></template>
        </template>
      </p>
      <div class="parts">
        <section class="held">
          <article v-for="(s, i) in view.stores" :key="s.source" class="store">
            <StoreVessel :store="s" :lead="i === 0" />
            <p v-if="s.output !== 'on'" class="output" role="alert" data-test="output-state">
              {{ s.says }}
              <template v-if="s.off_loads.length">Without power: {{ someOf(s.off_loads) }}.</template>
            </p>
            <p v-if="small && s.dark_at && !s.life.length && s.output === 'on'" class="likely">
              probably until {{ clock(s.dark_at) }}
            </p>
            <SwitchOffFirst :store="s" :places="view.places" :now="now" />
            <section v-if="small && i === 0 && view.acts.length" class="next">
              <h3>Next</h3>
              <ol class="acts">
                <li v-for="a in view.acts.slice(0, 3)" :key="a.id" :class="{ late: a.late }">
                  <b>{{ clock(a.at) }}{{ a.late ? ', late' : '' }}</b> {{ a.title }}
                </li>
              </ol>
            </section>
            <p v-if="s.output !== 'off'">
              <template v-if="!small && s.dark_at && !s.life.length">Probably until {{ clock(s.dark_at) }}. </template>
              <template v-if="s.promised_at">First estimate: {{ clock(s.promised_at) }}. </template>
              The plan uses <Fig :text="`${number(s.planned_w)} W`" /> just now<template v-if="s.out_w != null"
                >, and <Fig :text="`${number(s.out_w)} W`" /> out<template v-if="s.in_w"
                  >, {{ number(s.in_w) }} W in</template
                >
                was read last</template
              >.
              <template v-if="!s.alone">
                This station powers another one or is powered by one. Its gauge is kept, but the hours stay the plan’s.
              </template>
              <template v-else-if="s.notes || s.streamed">
                {{ s.streamed ? 'Watched' : `${counted(s.notes)} noted` }}: it draws <Fig :text="percent(s.scale)" /> of
                what was planned<template v-if="s.apart"
                  >, and <Fig :text="`${number(s.idle_w)} W`" /> for itself</template
                >.
              </template>
              <template v-if="s.since_at">
                It was charged in between, so the estimate uses the reading of {{ clock(s.since_at) }} and those after
                it.
              </template>
              <template v-if="s.engine"
                >These hours include a generator only after you accept it under <em>Reach the hour</em>.</template
              >
              <template v-if="s.alone && !s.notes && !s.streamed"
                >No reading was noted yet, so this is only the plan’s estimate.</template
              >
            </p>
          </article>
          <p v-if="!view.stores.length" class="soft">This plan powers nothing.</p>
        </section>
        <section class="gauge">
          <h3>At the gauge</h3>
          <div id="note">
            <GaugeLines
              :notes="live.notes ?? {}"
              path="/live"
              :stores="view.stores"
              :sources="sources"
              :name-of="nameOf"
              :now="now"
            />
          </div>
          <ReachHour :live="live" :now="now" :name-of-load="nameOfLoad" />
          <SoundAlarms v-if="small" :stores="view.stores" :acts="view.acts" :now="now" />
          <h3>By the clock</h3>
          <ol class="acts">
            <li v-for="a in view.acts" :key="a.id" :class="{ late: a.late }">
              <b>{{ clock(a.at) }}{{ a.late ? ', late' : '' }}</b> {{ a.title }}
              <small class="soft">{{ a.why }}</small>
            </li>
          </ol>
          <p>
            <a class="btn" :href="alarms" download>As alarms for a phone's own clock</a>
            <small class="soft"> iCalendar file. Its alarms ring without this page and without your network.</small>
          </p>
          <h3>To send to someone</h3>
          <p class="told">{{ view.text }}</p>
          <div class="send">
            <a class="btn" :href="asMessage">Text message</a>
            <a class="btn" :href="asMail">Email</a>
            <el-button v-if="canCopy" class="btn" @click="copy">{{ copied ? 'Copied' : 'Copy text' }}</el-button>
          </div>
        </section>
        <section class="hands">
          <SwitchNow :places="view.places" :cold="view.cold" :switched="live.switched ?? {}" :now="now" />
          <SimulatedStation :sources="sources" :name-of="nameOf" />
        </section>
      </div>
    </template>
    <p v-else class="soft" role="status">Calculating…</p>
  </div>
</template>

<style scoped>
.send {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
.out {
  display: flex;
  flex-flow: row nowrap;
  gap: 12px;
  align-items: center;
  justify-content: space-between;
}
.out h1,
.out p {
  margin: 0;
}
.out h1 {
  font-size: 20px;
}
.out .btn {
  flex: none;
}
@media (max-width: 760px) {
  .lamp {
    margin: 4px 0;
  }
}
.likely {
  font-size: 17px;
}
.since {
  min-height: 28px;
  margin: 0 0 10px;
}
h3 {
  margin: 14px 0 6px;
}
.store {
  margin-bottom: 16px;
}
.store .output {
  padding: 8px 12px;
  border: 2px solid var(--dark);
  border-radius: 8px;
  font-weight: 600;
}
.store p {
  max-width: 60ch;
  margin: 6px 0;
}
.parts {
  display: grid;
  flex: 1;
  grid-template: 'held gauge' auto 'hands gauge' 1fr / 1fr 1fr;
  gap: 0 24px;
  min-height: 0;
  overflow: auto;
}
.held {
  grid-area: held;
}
.gauge {
  grid-area: gauge;
}
.hands {
  grid-area: hands;
}
@media (width < 900px) {
  .parts {
    display: block;
    overflow: visible;
  }
}
ul {
  margin: 8px 0;
  padding: 0;
  list-style: none;
}
li {
  padding: 5px 0;
  border-bottom: 1px solid var(--line);
}
.acts small {
  display: block;
}
.acts {
  padding: 0;
  list-style: none;
}
.late b {
  text-decoration: underline;
  text-decoration-thickness: 3px;
  text-decoration-color: var(--dark);
}
.told {
  padding: 8px 12px;
  border: 1px solid var(--line);
  border-radius: 8px;
  background: var(--sheet);
}
</style>

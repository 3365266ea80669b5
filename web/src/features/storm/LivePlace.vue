<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed, reactive, ref } from 'vue'
import { answer, api } from '@/shared/api/client'
import type { LiveView } from '@/shared/api/types'
import { freshId } from '@/shared/ids'
import { escape } from '@/shared/patch'
import { act, edit, useSession } from '@/shared/session'
import { clock, hoursText, number, percent } from '@/shared/units/format'
import Fig from '@/shared/ui/Fig.vue'
import StoreVessel from './components/StoreVessel.vue'
import StormHead from './StormHead.vue'

/** The outage that is on: when it goes dark, what the gauges said, and what they teach. */
const { state, home, plan, pair, served, verdict } = useSession()
const query = useQuery({
  queryKey: computed(() => ['live', state.value?.id, served.value, pair.value.outage]),
  queryFn: () => {
    const params = { path: { home_id: state.value?.id ?? '' }, query: { outage: pair.value.outage } }
    return answer(api.GET('/api/homes/{home_id}/live', { params }))
  },
  enabled: computed(() => !!pair.value.outage),
  placeholderData: keepPreviousData,
  refetchInterval: 60_000,
})
const view = computed(() => query.data.value as LiveView | undefined)
const live = computed(() => home.value?.live ?? null)
const busy = ref(false)
const sources = computed(() => Object.values(plan.value?.sources ?? {}).filter((s) => !s.after))
const names = computed(() =>
  Object.fromEntries([
    ...(verdict.value?.parts ?? []).map((p) => [p.source, p.name]),
    ...(view.value?.stores ?? []).map((s) => [s.source, s.name]),
  ]),
)
const nameOf = (id: string) =>
  names.value[id] ?? (sources.value.length === 1 ? (verdict.value?.rail.station ?? id) : id)

const form = reactive<{ began: string; back: string; charges: Record<string, number> }>({
  began: '',
  back: '',
  charges: {},
})
async function out() {
  busy.value = true
  const charges = Object.fromEntries(
    sources.value.map((s) => [s.id, (form.charges[s.id] ?? 100 * (home.value?.alert?.charges?.[s.id] ?? 1)) / 100]),
  )
  await act((home_, named) =>
    answer(
      api.POST('/api/homes/{home_id}/live', {
        params: { path: { home_id: home_ } },
        body: {
          ...pair.value,
          edit_id: named.edit_id,
          began: form.began || null,
          back_by: form.back || null,
          charges,
        },
      }),
    ),
  )
  busy.value = false
}
const line = ref('')
const whose = ref('')
async function note() {
  const text = line.value.trim()
  if (!text) return
  busy.value = true
  const kept = await act((home_, named) =>
    answer(
      api.POST('/api/homes/{home_id}/live/notes', {
        params: { path: { home_id: home_ } },
        body: { ...pair.value, edit_id: named.edit_id, text, source: whose.value || sources.value[0]?.id || null },
      }),
    ),
  )
  busy.value = false
  if (kept !== false) line.value = ''
}
const notes = computed(() => Object.values(live.value?.notes ?? {}).sort((a, b) => b.at.localeCompare(a.at)))
const planned = computed(() =>
  Object.fromEntries((view.value?.stores ?? []).flatMap((s) => s.lines).map((x) => [x.note, x])),
)
function drop(id: string) {
  edit('A gauge line taken back', [{ doc: 'home', op: 'remove', path: `/live/notes/${escape(id)}` }])
}
function back() {
  const now = live.value
  if (!now) return
  const id = freshId(`out ${now.began.slice(0, 10)}`, Object.keys(home.value?.lived ?? {}))
  const ended = (view.value?.now ?? now.began).slice(0, 19)
  edit('It is back', [
    { doc: 'home', op: 'add', path: `/lived/${escape(id)}`, value: { ...now, ended } },
    { doc: 'home', op: 'replace', path: '/live', value: null },
  ])
}
const alarms = computed(
  () =>
    `/api/homes/${encodeURIComponent(state.value?.id ?? '')}/live/alarms.ics?outage=${encodeURIComponent(pair.value.outage)}`,
)
const copied = ref(false)
async function copy() {
  await navigator.clipboard?.writeText(view.value?.text ?? '')
  copied.value = true
}
const counted = (n: number) => `${n} ${n === 1 ? 'line' : 'lines'}`
const lived = computed(() => Object.entries(home.value?.lived ?? {}).reverse())
</script>

<template>
  <div class="place live">
    <StormHead>
      <button v-if="live" class="btn" @click="back">It is back</button>
    </StormHead>
    <p v-if="query.isError.value" role="alert">{{ query.error.value?.message }}</p>
    <section v-if="!live" class="none">
      <h2>The grid is there</h2>
      <p>
        When it goes out, say so here, at once or some hours late. What {{ plan?.name }} promises is kept as it was.
      </p>
      <form class="form" novalidate @submit.prevent="out">
        <template v-for="s in sources" :key="s.id">
          <label :for="`l-${s.id}`">{{ nameOf(s.id) }} at, %</label>
          <el-input-number
            :id="`l-${s.id}`"
            :model-value="form.charges[s.id] ?? Math.round(100 * (home?.alert?.charges?.[s.id] ?? 1))"
            :min="0"
            :max="100"
            @change="form.charges[s.id] = Number($event)"
          />
        </template>
        <label for="l-began">Out since</label>
        <el-date-picker
          id="l-began"
          v-model="form.began"
          type="datetime"
          placeholder="just now"
          value-format="YYYY-MM-DDTHH:mm:ss"
        />
        <label for="l-back">Said to be back by</label>
        <el-date-picker
          id="l-back"
          v-model="form.back"
          type="datetime"
          placeholder="nobody knows"
          value-format="YYYY-MM-DDTHH:mm:ss"
        />
        <span></span>
        <button class="btn strong out" :disabled="busy || !sources.length">It is out</button>
      </form>
      <p v-if="!sources.length" class="soft">
        This plan has no station yet, so nothing is promised: pick one under Source.
      </p>
      <template v-if="lived.length">
        <h3>Lived through</h3>
        <ul class="lived">
          <li v-for="[id, x] in lived" :key="id">
            <b>{{ clock(x.began) }}, {{ x.began.slice(0, 10) }}</b> to {{ x.ended ? clock(x.ended) : '?' }},
            {{ counted(Object.keys(x.notes ?? {}).length) }} noted
            <span v-for="(p, key) in x.promises" :key="key" class="soft">
              · promised <Fig :text="p.hours == null ? 'no end in sight' : hoursText(p.hours)" />
            </span>
          </li>
        </ul>
      </template>
    </section>
    <template v-else-if="view?.live">
      <p class="since">
        Out since {{ clock(view.live.began) }}, <Fig :text="view.lasted" />, on {{ view.plan_name }}
        <template v-if="view.live.back_by">
          · said to be back by {{ clock(view.live.back_by)
          }}<template v-if="view.spare"
            >, <strong><Fig :text="view.spare" /></strong
          ></template>
        </template>
      </p>
      <div class="columns">
        <section class="scroll">
          <article v-for="(s, i) in view.stores" :key="s.source" class="store">
            <StoreVessel :store="s" :lead="i === 0" />
            <p>
              <template v-if="s.early_at">9 in 10: not before {{ clock(s.early_at) }}. </template>
              <template v-if="s.promised_at">Promised: {{ clock(s.promised_at) }}. </template>
              The plan draws <Fig :text="`${number(s.planned_w)} W`" /> just now.
              <template v-if="!s.alone">
                It gives to another store or takes from one, so its gauge is kept, and the hours stay the plan's.
              </template>
              <template v-else-if="s.notes">
                {{ counted(s.notes) }} noted: it draws <Fig :text="percent(s.scale)" /> of what was planned<template
                  v-if="s.apart"
                  >, and <Fig :text="`${number(s.idle_w)} W`" /> for itself</template
                >.
              </template>
              <template v-if="s.since_at">
                It was charged in between, so all goes by the line of {{ clock(s.since_at) }} and those after it.
              </template>
              <template v-if="s.engine"
                >A generator to come is not in these hours: note the gauge after it ran.</template
              >
              <template v-if="s.alone && !s.notes">No gauge was noted yet: this is the plan's word alone.</template>
            </p>
          </article>
          <p v-if="!view.stores.length" class="soft">Nothing is fed in this plan.</p>
        </section>
        <section class="gauge scroll">
          <h3>At the gauge</h3>
          <form class="line" @submit.prevent="note">
            <el-select
              v-if="sources.length > 1"
              v-model="whose"
              aria-label="Whose gauge"
              :placeholder="nameOf(sources[0]!.id)"
            >
              <el-option v-for="s in sources" :key="s.id" :value="s.id" :label="nameOf(s.id)" />
            </el-select>
            <input
              v-model="line"
              aria-label="Gauge line"
              placeholder="64 % 310 W in 120 W 9:20 pm"
              inputmode="text"
              autocomplete="off"
              maxlength="200"
            />
            <button class="btn strong" :disabled="busy || !line.trim()">Note</button>
          </form>
          <ul>
            <li v-for="n in notes" :key="n.id">
              <b>{{ clock(n.at) }}</b> <Fig :text="percent(n.charge)" />
              <template v-if="n.out_w != null">, <Fig :text="`${number(n.out_w)} W`" /> out</template>
              <template v-if="n.in_w != null">, <Fig :text="`${number(n.in_w)} W`" /> in</template>
              <small v-if="sources.length > 1" class="soft">&nbsp;· {{ nameOf(n.source) }}</small>
              <small v-if="planned[n.id]" class="soft">
                · planned <Fig :text="`${number(planned[n.id]!.planned_w)} W`" />{{
                  {
                    '': '',
                    more: ': something more is on, or starting',
                    less: ': something planned is off, or resting',
                  }[planned[n.id]!.apart]
                }}
              </small>
              <button class="link small" :aria-label="`Take back ${n.said}`" @click="drop(n.id)">take back</button>
            </li>
          </ul>
          <h3>By the clock</h3>
          <ol class="acts">
            <li v-for="a in view.acts" :key="a.id" :class="{ late: a.late }">
              <b>{{ clock(a.at) }}{{ a.late ? ', late' : '' }}</b> {{ a.title }}
              <small class="soft">{{ a.why }}</small>
            </li>
          </ol>
          <p>
            <a class="btn" :href="alarms" download>As alarms for a phone's own clock</a>
            <small class="soft"> iCalendar; they ring without this page and without the house's network.</small>
          </p>
          <h3>To send to someone</h3>
          <p class="told">{{ view.text }}</p>
          <button class="btn" @click="copy">{{ copied ? 'Copied' : 'Copy it' }}</button>
        </section>
      </div>
    </template>
    <p v-else class="soft" role="status">Working it out…</p>
  </div>
</template>

<style scoped>
.form {
  max-width: 460px;
  margin: 12px 0;
}
.out {
  justify-self: start;
  min-height: 48px;
  padding: 0 28px;
  font-size: 17px;
}
.since {
  margin: 0 0 10px;
}
h3 {
  margin: 14px 0 6px;
}
.store {
  margin-bottom: 16px;
}
.store p {
  max-width: 60ch;
  margin: 6px 0;
}
.columns > section {
  flex: 1;
}
.line {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
.line input {
  flex: 1 1 220px;
  min-height: 44px;
  padding: 4px 12px;
  border: 2px solid var(--ink);
  border-radius: 9px;
  background: var(--sheet);
  color: var(--ink);
  font: inherit;
  font-size: 17px;
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
li .link {
  margin-left: 8px;
}
.told {
  padding: 8px 12px;
  border: 1px solid var(--line);
  border-radius: 8px;
  background: var(--sheet);
}
</style>

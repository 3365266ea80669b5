<script setup lang="ts">
import { computed } from 'vue'
import { blanks } from '@/shared/api/blanks'
import { escape } from '@/shared/session/patch'
import { useHomeQuery } from '@/shared/session/homeQuery'
import { edit, useSession } from '@/shared/session/session'
import { clock, hoursText, number, parseNumber } from '@/shared/units/format'
import Fig from '@/shared/ui/Fig.vue'
import KeptInput from '@/shared/ui/fields/KeptInput.vue'
import type { Column, Row } from '@/shared/ui/fields/rows'
import FoldSection from '@/shared/ui/FoldSection.vue'
import RowsEditor from '@/shared/ui/fields/RowsEditor.vue'
import PapersTabs from './PapersTabs.vue'

/** Who does what, who was asked what, when it is ready, and what the work leaves dark meanwhile. */
const { state, home, plan, pair } = useSession()
const query = useHomeQuery('/api/homes/{home_id}/work', {
  query: () => ({ plan: pair.value.plan }),
  enabled: () => !!pair.value.plan,
})
const view = query.view
const HANDS = { own: 'yourself', hired: 'hired', certified: 'certified only' }
const ANSWERS = {
  unknown: 'not known',
  not_needed: 'not needed',
  asked: 'asked',
  granted: 'granted',
  refused: 'refused',
}
const BUILT = { deviation: 'built differently', temporary: 'temporary', retired: 'no longer used' }
const TASKS = computed<Column[]>(() => [
  { key: 'name', title: 'task', kind: 'text', most: 80 },
  { key: 'by', title: 'hands', kind: 'choice', choices: HANDS },
  { key: 'who', title: 'who', kind: 'text' },
  { key: 'on', title: 'planned', kind: 'date' },
  { key: 'done', title: 'done', kind: 'date' },
  { key: 'sum', title: `offer, ${home.value?.site.currency ?? ''}`, kind: 'number' },
  { key: 'quote', title: 'offer of', kind: 'text' },
])
const ASKED: Column[] = [
  { key: 'kind', title: 'what', kind: 'said', words: (r) => view.value?.permission_words[String(r.kind)] ?? '' },
  { key: 'state', title: 'answer', kind: 'choice', choices: ANSWERS },
  { key: 'who', title: 'contact', kind: 'text' },
  { key: 'by', title: 'get it by', kind: 'date' },
  { key: 'on', title: 'answered', kind: 'date' },
  { key: 'paper', title: 'paper', kind: 'text', hint: 'number, or where it is' },
]
const STAGES: Column[] = [
  { key: 'kind', title: 'stage', kind: 'said', words: (r) => view.value?.stage_words[String(r.kind)] ?? '' },
  { key: 'low_weeks', title: 'weeks, at least', kind: 'number', empty: 0 },
  { key: 'high_weeks', title: 'at most', kind: 'number', empty: 0 },
  { key: 'done', title: 'done', kind: 'date' },
  { key: 'note', title: 'note', kind: 'text' },
]
const AS_BUILT: Column[] = [
  { key: 'what', title: 'what', kind: 'text', most: 80 },
  { key: 'kind', title: 'how', kind: 'choice', choices: BUILT },
  { key: 'where', title: 'where', kind: 'text' },
  { key: 'settled', title: 'settled', kind: 'date' },
]
const rows = (of: unknown) => Object.values((of ?? {}) as Record<string, Row>)
const doc = computed(() => plan.value?.id ?? '')
const stageKept = computed(() => Object.keys(plan.value?.stages ?? {}))
const calendar = computed(() => {
  const asked = new URLSearchParams({ ...pair.value }).toString()
  return `/api/homes/${encodeURIComponent(state.value?.id ?? '')}/papers/off-time.ics?${asked}`
})
function day(value: string | null) {
  edit('The day of the work', [{ doc: doc.value, op: 'replace', path: '/works/day', value: value || null }])
}
function minutes(id: string, name: string, typed: string, usual: number) {
  const read = parseNumber(typed)
  const known = plan.value?.works?.minutes ?? {}
  const path = `/works/minutes/${escape(id)}` as const
  if (!typed.trim() || (read.ok && read.value === usual)) {
    if (id in known) edit(`${name}: minutes as usual`.slice(0, 80), [{ doc: doc.value, op: 'remove', path }])
  } else if (read.ok)
    edit(`${name}: minutes`.slice(0, 80), [
      { doc: doc.value, op: id in known ? 'replace' : 'add', path, value: read.value },
    ])
}
</script>

<template>
  <div class="place work">
    <header>
      <PapersTabs />
      <div class="tools"><a class="btn" :href="calendar" download>Off-time as a calendar</a></div>
    </header>
    <p v-if="query.isError.value" role="alert">{{ query.error.value?.message }}</p>
    <p v-else-if="!view || !plan" class="soft" role="status">Loading…</p>
    <div v-else class="scroll">
      <p class="ready" :class="{ waits: view.unproven }">
        <b>{{ view.ready }}</b>
      </p>
      <section>
        <FoldSection
          id="work/stages"
          title="Lead time"
          :level="2"
          :holds="`${stageKept.length} of ${view.stages.length} entered`"
        >
          <p class="soft small">
            From the reservation to the day you can rely on it. Until a test proves that a station switches on, Outage
            now and readiness don’t count it.
          </p>
          <RowsEditor
            label="Lead time"
            what="stage"
            :doc="doc"
            path="/stages"
            :columns="STAGES"
            :rows="view.stages as unknown as Row[]"
            :kept="stageKept"
          />
        </FoldSection>
      </section>
      <section>
        <FoldSection
          id="work/permissions"
          title="Permissions"
          :level="2"
          :holds="`${Object.keys(plan.permissions ?? {}).length} of ${view.permissions.length} answered`"
        >
          <p class="soft small">If no one has asked, choose “not known”, never “not needed”.</p>
          <RowsEditor
            label="Permissions"
            what="permission"
            :doc="doc"
            path="/permissions"
            :columns="ASKED"
            :rows="view.permissions as unknown as Row[]"
            :kept="Object.keys(plan.permissions ?? {})"
          />
        </FoldSection>
      </section>
      <section>
        <h2>Tasks</h2>
        <RowsEditor
          label="Tasks"
          what="task"
          :doc="doc"
          path="/tasks"
          :columns="TASKS"
          :rows="rows(plan.tasks)"
          :blank="blanks.task"
          :kept="Object.keys(plan.tasks ?? {})"
        />
      </section>
      <section>
        <h2>Circuits without power during the work</h2>
        <p class="fields">
          <label class="day">
            First day of the work
            <el-date-picker
              :automatic-dropdown="false"
              :model-value="plan.works?.day ?? ''"
              type="date"
              value-format="YYYY-MM-DD"
              aria-label="First day of the work"
              placeholder="no day yet"
              @update:model-value="day"
            />
          </label>
        </p>
        <ul class="cautions">
          <li v-for="c in view.cautions" :key="c">{{ c }}</li>
        </ul>
        <div v-if="view.steps.length" class="steps">
          <table class="sums" aria-label="Steps of the work">
            <thead>
              <tr>
                <th>when</th>
                <th>step</th>
                <th>who</th>
                <th>minutes without power</th>
                <th>without power</th>
                <th>meanwhile</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="s in view.steps" :key="s.id">
                <td class="num">{{ s.at ? clock(s.at) : '' }}</td>
                <td>{{ s.name }} <small v-if="s.booked" class="soft">booked with the utility</small></td>
                <td>{{ HANDS[s.by as keyof typeof HANDS] }}</td>
                <td class="minutes">
                  <KeptInput
                    :value="String(s.minutes)"
                    :label="`Minutes of ${s.name}`"
                    inputmode="decimal"
                    @keep="(v: string) => minutes(s.id, s.name, v, s.usual)"
                  />
                </td>
                <td>{{ s.whole ? 'the whole panel' : s.dark.join(', ') }}</td>
                <td>{{ s.meanwhile }}</td>
              </tr>
            </tbody>
          </table>
        </div>
        <p v-if="view.dark.length">
          Longest: {{ view.dark[0]?.name }}, <Fig :text="hoursText((view.dark[0]?.minutes ?? 0) / 60)" />; on
          <Fig :text="`${number(view.days)} ${view.days === 1 ? 'day' : 'days'}`" />.
        </p>
      </section>
      <section>
        <h2>As built</h2>
        <p class="soft small">The person who opened it takes photos before closing anything.</p>
        <RowsEditor
          label="As built"
          what="deviation"
          :doc="doc"
          path="/built"
          :columns="AS_BUILT"
          :rows="rows(plan.built)"
          :blank="blanks.built"
          :kept="Object.keys(plan.built ?? {})"
        />
      </section>
    </div>
  </div>
</template>

<style scoped>
section {
  margin-bottom: 22px;
}
.ready {
  border-left: 4px solid var(--stored);
  padding: 4px 10px;
}
.ready.waits {
  border-color: var(--turns);
}
.minutes {
  width: 84px;
}
.day {
  display: inline-flex;
  gap: 8px;
  align-items: center;
}
.steps {
  overflow-x: auto;
}
.steps :where(th, td) {
  text-align: left;
  vertical-align: top;
}
.cautions {
  margin: 4px 0 8px;
}
</style>

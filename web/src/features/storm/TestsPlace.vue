<script setup lang="ts">
import { useLocalStorage } from '@vueuse/core'
import { computed, ref } from 'vue'
import type { Op, ProcedureView } from '@/shared/api/types'
import { freshId, uniqueId } from '@/shared/ids'
import { escape } from '@/shared/session/patch'
import { useHomeQuery } from '@/shared/session/homeQuery'
import { edit, useSession } from '@/shared/session/session'
import InstrumentsNow from '@/shared/ui/InstrumentsNow.vue'
import TestLines from './components/TestLines.vue'
import { useHomeClock } from './homeClock'
import StormHead from './StormHead.vue'

/** What proves a plan and teaches it: commissioning first, in its order, then the other tests. */
const { home, pair } = useSession()
const query = useHomeQuery('/api/homes/{home_id}/trials', { query: pair, enabled: () => !!pair.value.plan })
const all = computed(() => query.data.value ?? [])
const asked = ref('')
const now = computed(
  () =>
    all.value.find((p) => p.procedure.id === asked.value) ??
    all.value.find((p) => p.due === 'begun') ??
    all.value.find((p) => p.due) ??
    all.value[0] ??
    null,
)
const groups = computed(() => [
  { title: 'Commissioning, in order', of: all.value.filter((p) => p.procedure.order) },
  { title: 'Proof and results', of: all.value.filter((p) => !p.procedure.order) },
])
const { now: clockNow } = useHomeClock(ref(undefined))
const who = useLocalStorage('imbuto.who', '')
const trial = computed(() => now.value?.last ?? null)
const going = computed(() => (trial.value && !trial.value.ended ? trial.value : null))

function mark(p: ProcedureView): string {
  if (p.procedure.refused) return 'not offered'
  if (p.due === 'begun') return 'running'
  if (!p.last) return p.due ? 'to do' : 'not yet'
  if (p.last.stopped) return 'stopped'
  return p.last.passed ? (p.due ? 'passed, due again' : 'passed') : 'not as expected'
}
function begin() {
  if (!now.value) return
  const id = freshId(`test ${now.value.procedure.id}`, Object.keys(home.value?.trials ?? {}))
  const value = {
    id,
    procedure: now.value.procedure.id,
    plan: pair.value.plan,
    joined: now.value.mark,
    began: clockNow(),
    who: who.value,
    rows: {},
  }
  edit(`Test: ${now.value.procedure.title}`, [{ doc: 'home', op: 'add', path: `/trials/${escape(id)}`, value }])
}
function note(line: string, value: number, second: number | null, text: string) {
  if (!going.value) return
  const id = `r-${uniqueId()}`
  const row = { id, line, at: clockNow(), value, second, note: text }
  edit('Test row noted', [
    { doc: 'home', op: 'add', path: `/trials/${escape(going.value.id)}/rows/${escape(id)}`, value: row },
  ])
}
function drop(row: string) {
  if (!trial.value) return
  edit('Test row undone', [
    { doc: 'home', op: 'remove', path: `/trials/${escape(trial.value.id)}/rows/${escape(row)}` },
  ])
}
const reason = ref('')
function end(stopped: string) {
  if (!going.value) return
  const at = `/trials/${escape(going.value.id)}` as const
  const ops: Op[] = [{ doc: 'home', op: 'replace', path: `${at}/ended`, value: clockNow() }]
  if (stopped) ops.push({ doc: 'home', op: 'replace', path: `${at}/stopped`, value: stopped })
  edit(stopped ? 'Test stopped' : 'Test done', ops)
  reason.value = ''
}
function keep() {
  const t = trial.value
  if (!t?.teaching) return
  edit(t.teaching.label, [
    ...(t.teaching.ops as unknown as Op[]),
    { doc: 'home', op: 'replace', path: `/trials/${escape(t.id)}/kept`, value: true },
  ])
}
</script>

<template>
  <div class="place tests">
    <StormHead />
    <p v-if="query.isError.value" role="alert">{{ query.error.value?.message }}</p>
    <p v-else-if="query.isPending.value" class="soft" role="status">Loading tests…</p>
    <div v-else-if="now" class="columns">
      <nav class="scroll" aria-label="Tests">
        <template v-for="g in groups" :key="g.title">
          <h2 class="third">{{ g.title }}</h2>
          <component :is="g.of[0]?.procedure.order ? 'ol' : 'ul'">
            <li v-for="p in g.of" :key="p.procedure.id">
              <el-button :aria-current="p === now ? 'true' : undefined" @click="asked = p.procedure.id">
                <span>{{ p.procedure.title }}</span>
                <small :class="{ due: !!p.due }">{{ mark(p) }}</small>
              </el-button>
            </li>
          </component>
        </template>
      </nav>
      <article class="scroll" :aria-label="now.procedure.title">
        <h2>{{ now.procedure.title }}</h2>
        <p>{{ now.procedure.why }}</p>
        <p v-if="now.procedure.refused" class="refused">{{ now.procedure.refused }}</p>
        <template v-else>
          <p class="soft">
            By {{ now.by }}.<template v-if="now.due && now.due !== 'begun'"> Called for: {{ now.due }}.</template>
            <template v-if="now.procedure.teaches"> You learn {{ now.procedure.teaches }}.</template>
          </p>
          <section v-if="now.procedure.cautions.length || now.procedure.stop" class="stops" aria-label="First">
            <ul>
              <li v-for="c in now.procedure.cautions" :key="c">{{ c }}</li>
              <li v-if="now.procedure.stop"><b>Stop:</b> {{ now.procedure.stop }}</li>
            </ul>
          </section>
          <p v-if="!going" class="begin">
            <label>Done by <el-input v-model="who" maxlength="60" autocomplete="off" placeholder="your name" /></label>
            <el-button class="btn strong" @click="begin">{{ trial ? 'Do it again' : 'Begin' }}</el-button>
          </p>
          <section v-if="trial && trial.ended" class="how">
            <h2 class="third">{{ trial.stopped ? 'Broken off' : trial.passed ? 'As expected' : 'Not as expected' }}</h2>
            <p v-if="trial.stopped">{{ trial.stopped }}</p>
            <p v-else-if="trial.open.length">{{ trial.open.length }} of its lines are empty.</p>
          </section>
          <section v-if="trial?.teaching" class="teaching">
            <h2 class="third">What you learn</h2>
            <p v-if="trial.teaching.problem" class="soft">{{ trial.teaching.problem }}</p>
            <template v-else>
              <p>{{ trial.teaching.found }}</p>
              <p v-if="trial.teaching.before !== trial.teaching.after">
                The hours go from <b>{{ trial.teaching.before }}</b> to <b>{{ trial.teaching.after }}</b>.
              </p>
              <p v-if="trial.teaching.kept" class="soft">In the plan</p>
              <el-button v-else class="btn strong" @click="keep">Add to the plan</el-button>
            </template>
          </section>
          <InstrumentsNow v-if="going" />
          <TestLines
            :lines="now.procedure.lines"
            :rows="trial?.rows ?? []"
            :going="!!going"
            @note="note"
            @drop="drop"
          />
          <p><b>Afterward.</b> {{ now.procedure.ends }}</p>
          <p v-if="going" class="begin">
            <el-button class="btn strong" :disabled="!going.rows.length" @click="end('')">Finish the test</el-button>
            <label
              >or <el-input v-model="reason" maxlength="200" aria-label="Why you’re stopping" placeholder="why"
            /></label>
            <el-button class="btn" :disabled="!reason.trim()" @click="end(reason.trim())">Stop the test</el-button>
          </p>
        </template>
      </article>
    </div>
    <p v-else class="soft">This plan powers nothing yet, so there is nothing to test.</p>
  </div>
</template>

<style scoped>
nav {
  flex: 0 0 330px;
}
article {
  flex: 1;
  max-width: 760px;
}
ol,
ul {
  margin: 4px 0 12px;
  padding-left: 22px;
}
nav ul {
  padding: 0;
  list-style: none;
}
nav button {
  display: flex;
  gap: 10px;
  justify-content: space-between;
  align-items: baseline;
  width: 100%;
  min-height: 32px;
  padding: 3px 8px;
  border: 0;
  border-left: 4px solid transparent;
  background: none;
  color: var(--ink);
  font: inherit;
  text-align: left;
  cursor: pointer;
}
nav button[aria-current] {
  border-color: var(--stored);
  background: var(--sheet);
  font-weight: 650;
}
nav small {
  flex: none;
  color: var(--soft);
}
nav small.due {
  color: var(--ink);
  text-decoration: underline;
}
.stops {
  margin: 8px 0 12px;
  padding: 8px 14px;
  border: 2px solid var(--ink);
  border-radius: 9px;
}
.stops ul {
  margin: 0;
}
.refused {
  padding: 8px 12px;
  border-left: 6px solid var(--dark);
  background: var(--sheet);
}
.begin {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: center;
}
.teaching {
  margin: 12px 0;
  padding: 6px 14px 12px;
  border-left: 6px solid var(--stored);
  background: var(--sheet);
}
</style>

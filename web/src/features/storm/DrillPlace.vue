<script setup lang="ts">
import { homeToday } from '@/shared/units/homeTime'
import { computed, ref, shallowRef, watch } from 'vue'
import { answer, api } from '@/shared/api/client'
import type { DrillPart, DrillView } from '@/shared/api/types'
import { freshId } from '@/shared/ids'
import { escape } from '@/shared/session/patch'
import { edit, useSession } from '@/shared/session/session'
import PracticeLever from './components/PracticeLever.vue'
import StormHead from './StormHead.vue'

/** Both directions practised on the plan's own panel, switch and cords. Live and dead are told by pattern. */
const { state, home, plan, pair } = useSession()
type Scene = 'over' | 'back'
const SCENES: [Scene, string][] = [
  ['over', 'The power goes out'],
  ['back', 'The grid is back'],
]
const scene = ref<Scene>('over')
const round = shallowRef<DrillView | null>(null)
const moves = ref(0)
const problem = ref('')
const who = ref('')
const kept = ref(false)
const people = computed(() => Object.values(home.value?.household.people ?? {}))
const done = computed(() => Object.values(home.value?.household.drills ?? {}))

const params = () => ({ path: { home_id: state.value?.id ?? '' } })
async function begin(which: Scene) {
  if (!pair.value.plan) return
  scene.value = which
  problem.value = ''
  moves.value = 0
  kept.value = false
  try {
    const query = { plan: pair.value.plan, scene: which }
    round.value = await answer(api.GET('/api/homes/{home_id}/drill', { params: { ...params(), query } }))
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
}
/** Moves are made one after the other: each begins where the one before it ended. */
let last: Promise<void> = Promise.resolve()
function move(part: DrillPart, to: string) {
  last = last.then(() => moveNow(part.id, to))
}
async function moveNow(part: string, to: string) {
  const now = round.value
  if (!now || now.parts.find((p) => p.id === part)?.now === to) return
  const positions = Object.fromEntries(now.parts.map((p) => [p.id, p.now]))
  try {
    const body = { plan: pair.value.plan, scene: scene.value, positions, harm: now.harm, part, to }
    round.value = await answer(api.POST('/api/homes/{home_id}/drill', { params: params(), body }))
    moves.value++
    problem.value = ''
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
}
watch(
  () => pair.value.plan,
  () => void begin(scene.value),
  { immediate: true },
)

/** What hangs together is drawn together: panels with their breakers, then switches and stations. */
const PANEL = ['main', 'feeder', 'sb', 'b']
const kindOf = (part: DrillPart) => part.id.split(':')[0] ?? ''
interface Box {
  title: string
  parts: DrillPart[]
}
function boxes(parts: DrillPart[], title: (p: DrillPart) => string): Box[] {
  const found = new Map<string, DrillPart[]>()
  for (const p of parts) found.set(title(p), [...(found.get(title(p)) ?? []), p])
  return [...found].map(([name, all]) => ({ title: name, parts: all }))
}
const capital = (text: string) => text.slice(0, 1).toUpperCase() + text.slice(1)
const panelName = (p: DrillPart) => capital(p.where.replace(/^the /, ''))
/** As they hang: the main breaker, feeders, then slot by slot. */
function slotOf(p: DrillPart): number {
  if (kindOf(p) !== 'b') return PANEL.indexOf(kindOf(p)) - PANEL.length
  return Math.min(...(home.value?.circuits[p.id.slice(2)]?.slots ?? [0]))
}
const panels = computed(() => {
  const there = (round.value?.parts ?? []).filter((p) => PANEL.includes(kindOf(p)))
  return boxes(
    there.sort((a, b) => slotOf(a) - slotOf(b)),
    panelName,
  )
})
/** A station with its output and cords; a switch with its inlet and levers; plugs by themselves. */
function heading(p: DrillPart): string {
  const kind = kindOf(p)
  if (kind === 'out' || kind === 'charger') return p.name.replace(/^The (output|charging cord) of /, '')
  if (kind === 'cord') return p.where.replace(/^inlet of /, '')
  return kind === 'plug' ? 'Plugs' : p.where
}
const gear = computed(() =>
  boxes(
    (round.value?.parts ?? []).filter((p) => !PANEL.includes(kindOf(p))),
    heading,
  ),
)
/** A name without what its box is headed. */
function short(p: DrillPart): string {
  const kind = kindOf(p)
  if (kind === 'out') return 'Output'
  if (kind === 'charger') return 'Charging cord'
  if (kind === 'cord') return 'Cord to the inlet'
  return p.name
    .replace(/^(Lever|Breaker) /, '')
    .replace(/^The (plug|feeder) of /, '')
    .replace(/^The main/, 'Main')
}
/** How many breakers of the house the cards leave as they are. */
const others = computed(() => {
  const drawn = new Set((round.value?.parts ?? []).map((p) => p.id))
  return Object.keys(home.value?.circuits ?? {}).filter((id) => !drawn.has(`b:${id}`)).length
})
const nextStep = computed(() => (round.value?.steps ?? []).findIndex((s) => !s.done))
const card = ref(true)
const stations = computed(() => new Map(Object.values(plan.value?.sources ?? {}).map((s) => [s.id, s])))
/** A position in words: a cord is in the inlet rather than at an id. */
const word = (part: DrillPart, position: string) =>
  part.id.startsWith('cord:') && stations.value.has(position) ? 'in' : position

function keep() {
  const person = people.value.find((p) => p.id === who.value)
  const now = round.value
  if (!person || !now || !plan.value) return
  const id = freshId(`${person.id} ${now.scene}`, Object.keys(home.value?.household.drills ?? {}))
  const value = {
    id,
    person: person.id,
    plan: plan.value.id,
    scene: now.scene,
    on: homeToday(home.value?.site.time_zone),
    moves: moves.value,
  }
  edit(`${person.name} has practiced it`, [{ doc: 'home', op: 'add', path: `/household/drills/${escape(id)}`, value }])
  kept.value = true
}
const nameOf = (person: string) => home.value?.household.people[person]?.name ?? person
</script>

<template>
  <div class="place drill">
    <StormHead>
      <el-button v-for="[key, text] in SCENES" :key="key" class="btn" @click="begin(key)">{{ text }}, again</el-button>
    </StormHead>
    <p v-if="problem" role="alert">{{ problem }}</p>
    <p v-if="!round && !problem" class="soft" role="status">Setting up…</p>
    <p v-if="round" class="story">{{ round.story }} Nothing real moves here.</p>
    <div v-if="round" class="columns wraps">
      <section class="wall scroll" aria-label="Panel">
        <div v-for="box in panels" :key="box.title" class="box panel-box">
          <h2 class="third">{{ box.title }}</h2>
          <PracticeLever
            v-for="p in box.parts"
            :key="p.id"
            :part="p"
            :name="short(p)"
            :word="(to) => word(p, to)"
            @move="move(p, $event)"
          />
        </div>
        <p v-if="others" class="soft small">
          {{ others === 1 ? 'One other breaker stays as it is.' : `${others} other breakers stay as they are.` }}
        </p>
      </section>
      <section class="wall scroll" aria-label="Switch and station">
        <div v-for="box in gear" :key="box.title" class="box">
          <h2 class="third">{{ box.title }}</h2>
          <PracticeLever
            v-for="p in box.parts"
            :key="p.id"
            :part="p"
            :name="short(p)"
            :word="(to) => word(p, to)"
            @move="move(p, $event)"
          />
        </div>
        <p class="soft small">
          Upright bars: live. Plain: dead. Click a position, drag the knob, or use the arrow keys.
        </p>
      </section>
      <section class="state scroll" aria-live="polite">
        <h2>
          {{ round.won ? 'Done, and no one was harmed' : round.grid ? 'The grid is on' : 'The grid is off' }}
        </h2>
        <p v-if="round.said" class="said" :class="{ danger: round.said.startsWith('Danger') }">{{ round.said }}</p>
        <div v-if="round.harm.length" role="alert" class="harm">
          <b>You can’t win this round anymore:</b>
          <ul>
            <li v-for="h in round.harm" :key="h">{{ h }}</li>
          </ul>
          <el-button class="btn" @click="begin(scene)">Start again</el-button>
        </div>
        <form v-if="round.won" class="keep" @submit.prevent="keep">
          <template v-if="people.length">
            <label for="drill-who">Who did it?</label>
            <el-select id="drill-who" v-model="who" placeholder="someone in the house">
              <el-option v-for="p in people" :key="p.id" :value="p.id" :label="p.name" />
            </el-select>
            <el-button native-type="submit" class="btn strong" :disabled="!who || kept">{{
              kept ? 'Kept' : 'Keep it'
            }}</el-button>
          </template>
          <p v-else class="soft">Enter the people under House > Needs and people. Then Imbuto keeps who can do this.</p>
        </form>
        <div class="card-head">
          <h2 class="third">{{ nextStep < 0 ? 'The card' : `Step ${nextStep + 1} of ${round.steps.length}` }}</h2>
          <el-button class="link" :aria-expanded="card" @click="card = !card">{{
            card ? 'Hide the card' : 'Show the card'
          }}</el-button>
        </div>
        <ol v-if="card" class="card-steps">
          <li v-for="(s, n) in round.steps" :key="n" :class="{ done: s.done, next: n === nextStep }">
            {{ s.what }}
            <span v-if="s.done" class="sr">(done)</span>
            <small v-if="n === nextStep && s.proof" class="soft">It worked when: {{ s.proof }}</small>
          </li>
        </ol>
        <h2 class="third">Should have power</h2>
        <p>
          {{ round.targets.filter((t) => t.by).length }} of {{ round.targets.length }} on.
          <template v-if="round.targets.some((t) => !t.by)"
            >Still dead:
            {{
              round.targets
                .filter((t) => !t.by)
                .map((t) => t.name)
                .join(', ')
            }}.</template
          >
        </p>
        <template v-if="done.length">
          <h2 class="third">Who has done it</h2>
          <p v-for="d in done" :key="d.id">
            {{ nameOf(d.person) }}, {{ d.scene === 'over' ? 'switching to backup' : 'switching back' }}, {{ d.on }}
          </p>
        </template>
      </section>
    </div>
  </div>
</template>

<style scoped>
.wall {
  flex: 1 1 300px;
  min-width: 0;
}
.state {
  flex: 1.1 1 300px;
}
.story {
  max-width: 80ch;
  margin: 0 0 8px;
}
.box {
  margin-bottom: 12px;
  overflow: hidden;
  border: 1px solid var(--line);
  border-radius: 9px;
  background: var(--sheet);
}
.box .third {
  padding: 8px 10px;
  border-bottom: 1px solid var(--line);
}
.panel-box {
  border: 2px solid var(--line);
  background: var(--well);
}
.card-head {
  display: flex;
  justify-content: space-between;
  align-items: baseline;
}
.card-steps {
  margin: 6px 0 14px;
  padding-left: 26px;
}
.card-steps li {
  padding: 2px 0;
}
.card-steps .done {
  color: var(--soft);
}
.card-steps .done::marker {
  content: '✓ ';
}
.card-steps .next {
  font-weight: 650;
}
.card-steps small {
  display: block;
  font-weight: 400;
}
.said {
  padding: 8px 12px;
  border-left: 5px solid var(--stored);
  background: var(--sheet);
}
.said.danger,
.harm {
  border-left-color: var(--dark);
}
.harm {
  margin: 8px 0;
  padding: 8px 12px;
  border-left: 6px solid var(--dark);
  background: var(--sheet);
}
.keep {
  display: grid;
  grid-template-columns: max-content 1fr max-content;
  gap: 8px;
  align-items: center;
  margin: 10px 0;
}
</style>

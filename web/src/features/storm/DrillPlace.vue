<script setup lang="ts">
import { homeToday } from '@/shared/units/homeTime'
import { computed, ref, shallowRef, watch } from 'vue'
import { answer, api } from '@/shared/api/client'
import type { DrillPart, DrillView } from '@/shared/api/types'
import { freshId } from '@/shared/ids'
import { escape } from '@/shared/session/patch'
import { edit, useSession } from '@/shared/session/session'
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
async function move(part: DrillPart, to: string) {
  const now = round.value
  if (!now || to === part.now) return
  const positions = Object.fromEntries(now.parts.map((p) => [p.id, p.now]))
  try {
    const body = { plan: pair.value.plan, scene: scene.value, positions, harm: now.harm, part: part.id, to }
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

const order = ['main', 'feeder', 'charger', 'out', 'cord', 'sb', 'device', 'lever', 'plug', 'b'] as const
const TITLES: Record<(typeof order)[number], string> = {
  main: 'Main',
  feeder: 'Feeders',
  charger: 'Charging cords',
  out: 'Stations',
  cord: 'Inlets',
  sb: 'Source breakers',
  device: 'Switches automatically',
  lever: 'The switch',
  plug: 'Plugs',
  b: 'Breakers',
}
const groups = computed(() =>
  order
    .map((kind) => ({
      kind,
      title: TITLES[kind],
      parts: (round.value?.parts ?? []).filter((p) => p.id === kind || p.id.startsWith(`${kind}:`)),
    }))
    .filter((g) => g.parts.length),
)
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
    <div v-if="round" class="columns">
      <section class="parts scroll" aria-label="Switches">
        <p class="story">{{ round.story }}</p>
        <div v-for="g in groups" :key="g.kind" class="group">
          <h2 class="third">{{ g.title }}</h2>
          <div v-for="p in g.parts" :key="p.id" class="part">
            <span class="name">{{ p.name }}</span>
            <span v-if="p.itself" class="soft small">{{ p.now === 'grid' ? 'on the grid' : 'on its station' }}</span>
            <span v-else class="positions" role="group" :aria-label="p.name">
              <el-button v-for="to in p.positions" :key="to" :aria-pressed="to === p.now" @click="move(p, to)">
                {{ word(p, to) }}
              </el-button>
            </span>
          </div>
        </div>
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
        <h2 class="third">Should have power</h2>
        <ul class="targets">
          <li v-for="t in round.targets" :key="t.id" :class="{ live: t.by }">
            <span>{{ t.name }}</span> <small>{{ t.by ? `live, by ${t.by}` : 'dark' }}</small>
          </li>
        </ul>
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
.parts {
  flex: 1.3;
}
.state {
  flex: 1;
}
.story {
  max-width: 56ch;
}
.group {
  margin-bottom: 10px;
}
.part {
  display: flex;
  gap: 10px;
  align-items: center;
  min-height: 36px;
  padding: 2px 8px;
  border-bottom: 1px solid var(--line);
}
.name {
  flex: 1;
}
.positions {
  display: inline-flex;
}
.positions button {
  min-width: 58px;
  min-height: 32px;
  padding: 2px 10px;
  border: 1px solid var(--line-strong);
  background: var(--sheet);
  color: var(--ink);
}
.positions button:first-child {
  border-radius: 7px 0 0 7px;
}
.positions button:last-child {
  border-radius: 0 7px 7px 0;
}
.positions button + button {
  border-left: 0;
}
.positions [aria-pressed='true'] {
  background: var(--deep);
  color: var(--on-deep);
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
.targets {
  margin: 4px 0 12px;
  padding: 0;
  list-style: none;
}
.targets li {
  display: flex;
  justify-content: space-between;
  gap: 10px;
  padding: 5px 10px;
  border: 1px solid var(--line);
  border-top: 0;
}
.targets li:first-child {
  border-top: 1px solid var(--line);
}
/* Live is told by vertical bars, not by colour. */
.targets .live {
  background: repeating-linear-gradient(90deg, var(--stored) 0 3px, transparent 3px 9px) left / 36px 100% no-repeat;
  padding-left: 46px;
  font-weight: 650;
}
@media (max-width: 760px) {
  .positions button {
    min-height: 44px;
  }
}
</style>

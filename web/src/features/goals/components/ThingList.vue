<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Household } from '@/shared/api/types'
import { freshId } from '@/shared/ids'
import { escape } from '@/shared/session/patch'
import { edit, useSession } from '@/shared/session/session'
import { parseNumber } from '@/shared/units/format'
import MeasureInput from '@/shared/ui/fields/MeasureInput.vue'
import Choice from '@/shared/ui/fields/Choice.vue'
import KeptInput from '@/shared/ui/fields/KeptInput.vue'

/** Item already and need not be bought, and where the panel hangs. */
const { home, problem } = useSession()
type Thing = Household['existing'][string]
type Spot = Household['panel']
const things = computed(() => Object.values(home.value?.household.existing ?? {}))
const panel = computed(() => home.value?.household.panel)
const name = ref('')
const kind = ref<Thing['kind']>('cord')
const rating = ref('')
const KINDS: Record<Thing['kind'], string> = {
  station: 'power station',
  module: 'battery module',
  transfer_switch: 'transfer switch',
  inlet: 'inlet',
  generator: 'generator',
  cord: 'cord, by its plugs',
  array: 'rooftop array',
  charger: 'charger',
  other: 'something else',
}
const SPOT: [keyof Spot, string, string][] = [
  ['route', 'cable route', 'through the crawl space'],
  ['wall', 'wall and studs', 'drywall, and stud spacing'],
  ['shelter', 'shelter', 'inside the garage, dry'],
]
const FAR: [keyof Spot, string][] = [
  ['distance_m', 'to the station’s place'],
  ['height_m', 'above the floor'],
]
const base = (id: string) => `/household/existing/${escape(id)}` as const

function add() {
  const said = name.value.trim().slice(0, 80)
  if (!said) return
  const id = freshId(said, Object.keys(home.value?.household.existing ?? {}))
  const value: Thing = {
    id,
    name: said,
    kind: kind.value,
    rating: rating.value.trim(),
    bought: '',
    paid: '',
    warranty_until: '',
    tested_wh: 0,
    cycles: 0,
    checked: false,
    note: '',
  }
  edit(`Already owned: ${said}`, [{ doc: 'home', op: 'add', path: base(id), value }])
  name.value = rating.value = ''
}
const remove = (t: Thing) => edit(`${t.name} removed`, [{ doc: 'home', op: 'remove', path: base(t.id) }])

const isStore = (t: Thing) => t.kind === 'station' || t.kind === 'module'
const REGISTER: [keyof Thing, string][] = [
  ['bought', 'bought when and where'],
  ['paid', 'price'],
  ['warranty_until', 'warranty until'],
]
function set(t: Thing, field: keyof Thing, value: string | number | boolean, label: string) {
  edit(`${t.name}: ${label}`, [{ doc: 'home', op: 'replace', path: `${base(t.id)}/${field}`, value }])
}
function figure(t: Thing, field: 'tested_wh' | 'cycles', text: string, label: string) {
  const parsed = parseNumber(text || '0')
  if (!parsed.ok || parsed.value < 0) {
    problem.value = `${t.name}, ${label}: ${parsed.ok ? 'it cannot be below 0.' : parsed.why}`
    return
  }
  set(t, field, field === 'cycles' ? Math.round(parsed.value) : parsed.value, label)
}

function far(field: keyof Spot, value: string | number | null) {
  edit('Panel location', [{ doc: 'home', op: 'replace', path: `/household/panel/${field}`, value }])
}
</script>

<template>
  <section>
    <h2>Already owned <span class="soft small">costs nothing more</span></h2>
    <ul>
      <li v-for="t in things" :key="t.id">
        <b>{{ t.name }}</b> <span class="soft">{{ KINDS[t.kind] }}{{ t.rating ? `, ${t.rating}` : '' }}</span>
        <el-button class="link small soft" @click="remove(t)">remove</el-button>
        <details v-if="isStore(t)">
          <summary class="soft small">its papers and condition</summary>
          <label v-for="[field, text] in REGISTER" :key="field" class="spot">
            <span class="soft">{{ text }}</span>
            <KeptInput :value="String(t[field] ?? '')" maxlength="200" @keep="set(t, field, $event, text)" />
          </label>
          <label class="spot"
            ><span class="soft">tested capacity (Wh)</span>
            <KeptInput
              :value="t.tested_wh || ''"
              inputmode="decimal"
              @keep="figure(t, 'tested_wh', $event, 'tested Wh')"
          /></label>
          <label class="spot"
            ><span class="soft">cycles so far</span>
            <KeptInput :value="t.cycles || ''" inputmode="numeric" @keep="figure(t, 'cycles', $event, 'cycles')"
          /></label>
          <el-checkbox
            class="check"
            :model-value="t.checked"
            @change="set(t, 'checked', !t.checked, 'cells and protection')"
            >cell balance and protection checked by a qualified person</el-checkbox
          >
          <p v-if="!t.checked" class="soft small">
            A used pack can hide faults, such as unbalanced cells, wear or missing protection. Until someone has checked
            and tested it, plan with its label at most, and never leave it unattended indoors.
          </p>
        </details>
      </li>
    </ul>
    <form novalidate class="new" @submit.prevent="add">
      <el-input v-model="name" aria-label="Item" placeholder="Orange extension cord" />
      <Choice v-model="kind" label="Kind">
        <el-option v-for="(t, k) in KINDS" :key="k" :value="k" :label="t" />
      </Choice>
      <el-input v-model="rating" aria-label="Rating and plug" placeholder="15 A, its wire and length" />
      <el-button native-type="submit" class="btn" :disabled="!name.trim()">Add</el-button>
    </form>
  </section>
  <section v-if="home?.service.slots && panel">
    <h2>Panel location</h2>
    <div v-for="[field, text] in FAR" :key="field" class="spot">
      <span class="soft">{{ text }}</span>
      <MeasureInput
        kind="length"
        :label="text"
        :value="(panel[field] as number | null) ?? null"
        :least="0"
        :most="field === 'distance_m' ? 500 : 10"
        empty
        @keep="(v) => far(field, v)"
      />
    </div>
    <label v-for="[field, text, example] in SPOT" :key="field" class="spot">
      <span class="soft">{{ text }}</span>
      <KeptInput :value="panel[field] ?? ''" :placeholder="example" @keep="far(field, $event)" />
    </label>
  </section>
</template>

<style scoped>
h2 span {
  font: 400 12.5px var(--text);
}
ul {
  margin: 6px 0;
  padding: 0;
  list-style: none;
}
li {
  padding: 3px 0;
}
li .link {
  margin-left: 10px;
}
.new {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
details {
  padding-left: 12px;
}
summary {
  cursor: pointer;
}
.check {
  display: flex;
  gap: 7px;
  align-items: center;
}
.spot {
  display: grid;
  grid-template-columns: 230px minmax(0, 1fr);
  gap: 10px;
  align-items: center;
  margin: 4px 0;
}
</style>

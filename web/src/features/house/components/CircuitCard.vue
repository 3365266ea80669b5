<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { answer, api } from '@/shared/api/client'
import type { Circuit, Op } from '@/shared/api/types'
import { freshId } from '@/shared/ids'
import { escape } from '@/shared/patch'
import { edit, useSession } from '@/shared/session'
import { parseNumber } from '@/shared/units/format'
import Fig from '@/shared/ui/Fig.vue'
import { legText, newCircuit, removeCircuit } from '../model'

/** A circuit's facts, each changed in place. */
const props = defineProps<{ circuit: Circuit }>()
const { state, home, verdict, problem } = useSession()
const leg = computed(() => legText(verdict.value?.circuits.find((c) => c.id === props.circuit.id)?.leg))
/** Guard, neutral and the like: shown when there is something in them, or when asked for. */
const more = ref(props.circuit.neutral_partner !== null || props.circuit.tandem || props.circuit.leg !== null)
const base = computed(() => `/circuits/${escape(props.circuit.id)}`)

function set(field: keyof Circuit, value: unknown, what: string) {
  if (value === props.circuit[field]) return
  edit(`${props.circuit.name}: ${what}`, [{ doc: 'home', op: 'replace', path: `${base.value}/${field}`, value }])
}
const table = useQuery({ queryKey: ['wires'], queryFn: () => answer(api.GET('/api/wires')), staleTime: Infinity })
/** Sizes of the table that suit the house: millimetres where it runs on 230 V. */
const sizes = computed(() => {
  const metric = home.value?.service.volts === 230
  return (table.data.value ?? []).filter((w) => w.metric === metric && w.fixed_a > 0)
})
const unknownWire = computed(
  () =>
    props.circuit.wire !== '' &&
    table.data.value &&
    !table.data.value.some((w) => props.circuit.wire.startsWith(w.name)),
)
const text = (event: Event) => (event.target as HTMLInputElement).value.trim()

const GUARDS: Record<Circuit['protection'], string> = {
  none: 'none',
  ground_fault: 'ground-fault device',
  arc_fault: 'arc-fault device',
  both: 'both in one',
}
const others = computed(() =>
  Object.values(home.value?.circuits ?? {}).filter((c) => c.id !== props.circuit.id && c.poles === 1),
)

/** A shared neutral is shared both ways. */
function setPartner(id: string) {
  const ops: Op[] = []
  const link = (a: string, b: string | null) =>
    ops.push({ doc: 'home', op: 'replace', path: `/circuits/${escape(a)}/neutral_partner`, value: b })
  for (const c of others.value) if (c.neutral_partner === props.circuit.id && c.id !== id) link(c.id, null)
  link(props.circuit.id, id || null)
  if (id) link(id, props.circuit.id)
  const name = home.value?.circuits[id]?.name
  edit(`${props.circuit.name}: ${name ? `shares its neutral with ${name}` : 'a neutral of its own'}`, ops)
}

const twin = computed(() =>
  others.value.find((c) => c.tandem && c.slots.some((slot) => props.circuit.slots.includes(slot))),
)
function addTwin() {
  const slot = props.circuit.slots[0] ?? 1
  const id = freshId(`circuit ${slot} twin`, Object.keys(home.value?.circuits ?? {}))
  const value = { ...newCircuit(id, slot, props.circuit.panel), tandem: true, traced: false }
  edit(`A tandem twin in slot ${slot}`, [{ doc: 'home', op: 'add', path: `/circuits/${id}`, value }])
}

function setBreaker(event: Event) {
  const parsed = parseNumber(text(event))
  if (parsed.ok) set('breaker_a', parsed.value, `breaker ${parsed.value} A`)
  else problem.value = `${props.circuit.name}, breaker: ${parsed.why}`
}

function setSlots(event: Event) {
  const slots = text(event)
    .split(/[\s,]+/)
    .filter(Boolean)
    .map(Number)
  if (slots.some((s) => !Number.isInteger(s) || s < 1)) {
    problem.value = `${props.circuit.name}, slots: give whole numbers such as 10, 12.`
    return
  }
  const ops: Op[] = [{ doc: 'home', op: 'replace', path: `${base.value}/slots`, value: slots }]
  edit(`${props.circuit.name}: slot ${slots.join(' and ')}`, ops)
}

/** To another panel, out of its slots, which that one may have filled. */
function movePanel(panel: string | null) {
  if (panel === props.circuit.panel) return
  const put = (field: string, value: unknown): Op => ({
    doc: 'home',
    op: 'replace',
    path: `${base.value}/${field}`,
    value,
  })
  const name = panel ? home.value?.panels[panel]?.name : 'the main panel'
  edit(`${props.circuit.name} to ${name}`, [put('slots', []), put('panel', panel)])
}

function remove() {
  if (state.value) edit(`Circuit removed: ${props.circuit.name}`, removeCircuit(state.value, props.circuit.id))
}
</script>

<template>
  <div class="card">
    <h2>
      <span class="slot">{{ circuit.slots.join(' · ') }}</span>
      <input
        v-kept="circuit.name"
        aria-label="Circuit name"
        maxlength="80"
        @change="text($event) && set('name', text($event), text($event))"
      />
    </h2>
    <div class="facts">
      <label>breaker <input v-kept="`${circuit.breaker_a} A`" class="n" data-figure @change="setBreaker" /></label>
      <label v-if="home && Object.keys(home.panels).length"
        >panel
        <select
          :value="circuit.panel ?? ''"
          aria-label="Panel of the circuit"
          @change="movePanel(text($event) || null)"
        >
          <option value="">the main panel</option>
          <option v-for="p in home.panels" :key="p.id" :value="p.id">{{ p.name }}</option>
        </select>
      </label>
      <label>slots <input v-kept="circuit.slots.join(', ')" class="n" @change="setSlots" /></label>
      <label>
        poles
        <select :value="circuit.poles" @change="set('poles', Number(text($event)), `${text($event)} pole`)">
          <option :value="1">one</option>
          <option :value="2">two, {{ (home?.service.volts ?? 120) * 2 }} V</option>
        </select>
      </label>
      <label
        >wire
        <input
          v-kept="circuit.wire"
          class="m"
          placeholder="unknown"
          list="wire-sizes"
          @change="set('wire', text($event), `wire ${text($event)}`)"
        />
        <datalist id="wire-sizes"><option v-for="w in sizes" :key="w.id" :value="w.name" /></datalist>
        <small v-if="unknownWire" class="soft">not a size of the table: counts as not known</small></label
      >
      <label
        >rooms
        <input
          v-kept="circuit.room"
          class="m"
          placeholder="none"
          @change="set('room', text($event), `room ${text($event)}`)"
      /></label>
      <label>
        <input
          type="checkbox"
          :checked="circuit.traced"
          @change="set('traced', !circuit.traced, circuit.traced ? 'not traced yet' : 'traced')"
        />
        traced
      </label>
      <span class="soft"><Fig v-if="leg" :text="leg" /></span>
      <button class="link soft" :aria-expanded="more" @click="more = !more">{{ more ? 'less' : 'more' }}</button>
      <button class="link soft" @click="remove">remove</button>
    </div>
    <div v-if="more" class="facts">
      <label
        >leg
        <select
          v-if="home?.service.legs === 2 && circuit.poles === 1"
          :value="circuit.leg ?? ''"
          @change="set('leg', text($event) || null, text($event) ? `leg ${text($event)}` : 'leg by its slot')"
        >
          <option value="">by its slot</option>
          <option value="A">A</option>
          <option value="B">B</option>
        </select>
      </label>
      <label
        >guard
        <select
          :value="circuit.protection"
          @change="set('protection', text($event), GUARDS[text($event) as Circuit['protection']])"
        >
          <option v-for="(t, k) in GUARDS" :key="k" :value="k">{{ t }}</option>
        </select>
      </label>
      <label v-if="circuit.poles === 1"
        >shares its neutral with
        <select :value="circuit.neutral_partner ?? ''" @change="setPartner(text($event))">
          <option value="">none</option>
          <option v-for="c in others" :key="c.id" :value="c.id">{{ c.slots.join('·') }} {{ c.name }}</option>
        </select>
      </label>
      <label v-if="circuit.poles === 1">
        <input
          type="checkbox"
          :checked="circuit.tandem"
          @change="set('tandem', !circuit.tandem, circuit.tandem ? 'a full slot' : 'tandem')"
        />
        tandem, half a slot
      </label>
      <button v-if="circuit.tandem && circuit.slots.length && !twin" class="link" @click="addTwin">add its twin</button>
    </div>
  </div>
</template>

<style scoped>
h2 {
  display: flex;
  align-items: baseline;
  gap: 10px;
}
h2 input {
  flex: 1;
  min-width: 0;
  font: inherit;
}
input:not([type]),
select {
  padding: 1px 5px;
  border: 1px solid transparent;
  border-bottom-color: var(--line-strong);
  border-radius: 4px 4px 0 0;
  background: transparent;
  color: var(--ink);
  font: inherit;
}
h2 input:not([type]) {
  border-bottom-color: transparent;
}
input:not([type]):hover,
select:hover {
  background: var(--well);
}
option {
  background: var(--sheet);
}
.facts {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
  align-items: center;
  margin: 6px 0 14px;
  color: var(--soft);
  font-size: 13px;
}
.n {
  width: 62px;
}
.m {
  width: 88px;
}
@media (max-width: 760px) {
  .facts label {
    min-height: 44px;
    display: flex;
    align-items: center;
    gap: 6px;
  }
}
</style>

<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { answer, api } from '@/shared/api/client'
import type { Circuit, Op } from '@/shared/api/types'
import { freshId } from '@/shared/ids'
import { escape } from '@/shared/session/patch'
import { edit, useSession } from '@/shared/session/session'
import { parseNumber } from '@/shared/units/format'
import Fig from '@/shared/ui/Fig.vue'
import { legText, newCircuit, removeCircuit } from '../model'
import Choice from '@/shared/ui/fields/Choice.vue'
import KeptInput from '@/shared/ui/fields/KeptInput.vue'

/** A circuit's facts, each changed in place. */
const props = defineProps<{ circuit: Circuit }>()
const { state, home, verdict, problem } = useSession()
const leg = computed(() => legText(verdict.value?.circuits.find((c) => c.id === props.circuit.id)?.leg))
/** Guard, neutral and the like: shown when there is something in them, or when asked for. */
const more = ref(props.circuit.neutral_partner !== null || props.circuit.tandem || props.circuit.leg !== null)
const base = computed(() => `/circuits/${escape(props.circuit.id)}` as const)

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
  edit(`${props.circuit.name}: ${name ? `shares its neutral with ${name}` : 'its own neutral'}`, ops)
}

const twin = computed(() =>
  others.value.find((c) => c.tandem && c.slots.some((slot) => props.circuit.slots.includes(slot))),
)
function addTwin() {
  const slot = props.circuit.slots[0] ?? 1
  const id = freshId(`circuit ${slot} twin`, Object.keys(home.value?.circuits ?? {}))
  const value = { ...newCircuit(id, slot, props.circuit.panel), tandem: true, traced: false }
  edit(`A tandem twin in slot ${slot}`, [{ doc: 'home', op: 'add', path: `/circuits/${escape(id)}`, value }])
}

function setBreaker(typed: string) {
  const parsed = parseNumber(typed.replace(/\s*a$/i, ''))
  if (parsed.ok) set('breaker_a', parsed.value, `breaker ${parsed.value} A`)
  else problem.value = `${props.circuit.name}, breaker: ${parsed.why}`
}

function setSlots(typed: string) {
  const slots = typed
    .split(/[\s,]+/)
    .filter(Boolean)
    .map(Number)
  if (slots.some((s) => !Number.isInteger(s) || s < 1)) {
    problem.value = `${props.circuit.name}, slots: enter whole numbers such as 10, 12.`
    return
  }
  const ops: Op[] = [{ doc: 'home', op: 'replace', path: `${base.value}/slots`, value: slots }]
  edit(`${props.circuit.name}: slot ${slots.join(' and ')}`, ops)
}

/** To another panel, out of its slots, which that one may have filled. */
function movePanel(panel: string | null) {
  if (panel === props.circuit.panel) return
  const put = (field: keyof Circuit, value: unknown): Op => ({
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
      <KeptInput
        :value="circuit.name"
        label="Circuit name"
        maxlength="80"
        @keep="$event && set('name', $event, $event)"
      />
    </h2>
    <div class="facts">
      <label
        >breaker <KeptInput :value="`${circuit.breaker_a} A`" class="n" data-figure label="breaker" @keep="setBreaker"
      /></label>
      <label v-if="home && Object.keys(home.panels).length"
        >panel
        <Choice :model-value="circuit.panel ?? ''" label="Circuit’s panel" @change="movePanel($event || null)">
          <el-option value="" label="the main panel" />
          <el-option v-for="p in home.panels" :key="p.id" :value="p.id" :label="p.name" />
        </Choice>
      </label>
      <label>slots <KeptInput :value="circuit.slots.join(', ')" class="n" label="slots" @keep="setSlots" /></label>
      <label>
        poles
        <Choice :model-value="circuit.poles" label="poles" @change="set('poles', Number($event), `${$event} pole`)">
          <el-option :value="1" label="one" />
          <el-option :value="2" :label="`two, ${(home?.service.volts ?? 120) * 2} V`" />
        </Choice>
      </label>
      <label
        >wire
        <KeptInput
          :value="circuit.wire"
          class="m"
          placeholder="unknown"
          list="wire-sizes"
          label="wire"
          @keep="set('wire', $event, `wire ${$event}`)"
        />
        <datalist id="wire-sizes"><option v-for="w in sizes" :key="w.id" :value="w.name" /></datalist>
        <small v-if="unknownWire" class="soft"
          >this size isn’t in the table, so Imbuto treats it as unknown</small
        ></label
      >
      <label
        >rooms
        <KeptInput
          :value="circuit.room"
          class="m"
          placeholder="none"
          label="rooms"
          @keep="set('room', $event, `room ${$event}`)"
      /></label>
      <el-checkbox
        :model-value="circuit.traced"
        @change="set('traced', !circuit.traced, circuit.traced ? 'not traced yet' : 'traced')"
        >traced</el-checkbox
      >
      <span class="soft"><Fig v-if="leg" :text="leg" /></span>
      <el-button class="link soft" :aria-expanded="more" @click="more = !more">{{ more ? 'less' : 'more' }}</el-button>
      <el-button class="link soft" @click="remove">remove</el-button>
    </div>
    <div v-if="more" class="facts">
      <label
        >leg
        <Choice
          v-if="home?.service.legs === 2 && circuit.poles === 1"
          :model-value="circuit.leg ?? ''"
          label="leg"
          @change="set('leg', $event || null, $event ? `leg ${$event}` : 'leg by its slot')"
        >
          <el-option value="" label="by its slot" />
          <el-option value="A" label="A" />
          <el-option value="B" label="B" />
        </Choice>
      </label>
      <label
        >guard
        <Choice
          :model-value="circuit.protection"
          label="guard"
          @change="set('protection', $event, GUARDS[$event as Circuit['protection']])"
        >
          <el-option v-for="(t, k) in GUARDS" :key="k" :value="k" :label="t" />
        </Choice>
      </label>
      <label v-if="circuit.poles === 1"
        >shares its neutral with
        <Choice
          :model-value="circuit.neutral_partner ?? ''"
          label="shares its neutral with"
          @change="setPartner($event)"
        >
          <el-option value="" label="none" />
          <el-option v-for="c in others" :key="c.id" :value="c.id" :label="`${c.slots.join('·')} ${c.name}`" />
        </Choice>
      </label>
      <el-checkbox
        v-if="circuit.poles === 1"
        :model-value="circuit.tandem"
        @change="set('tandem', !circuit.tandem, circuit.tandem ? 'a full slot' : 'tandem')"
        >tandem, half a slot</el-checkbox
      >
      <el-button v-if="circuit.tandem && circuit.slots.length && !twin" class="link" @click="addTwin"
        >add its twin</el-button
      >
    </div>
  </div>
</template>

<style scoped>
h2 {
  display: flex;
  align-items: baseline;
  gap: 10px;
}
h2 .el-input {
  flex: 1;
  min-width: 0;
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

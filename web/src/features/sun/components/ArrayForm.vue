<script setup lang="ts">
import { computed } from 'vue'
import type { Cord, Op, Panel, Plan, Shade, SolarArray } from '@/shared/api/types'
import { useSession } from '@/shared/session'
import { money, number, parseNumber } from '@/shared/units/format'
import CordPicker from '@/shared/ui/CordPicker.vue'
import { azimuthOf, compass, setArray } from '../model'
import ShadeEditor from './ShadeEditor.vue'

/** One array: its panels, how they are wired, where they look, its input and cable. */
const props = defineProps<{ array: SolarArray; plan: Plan; panels: Panel[]; inputs: number; metric: boolean }>()
const emit = defineEmits<{ change: [Op[], string]; remove: [] }>()
const { problem, verdict } = useSession()
const panel = computed(() => props.panels.find((p) => p.id === props.array.panel))

function set(change: Partial<SolarArray>, label: string) {
  const ops = setArray(props.plan, props.array, change)
  if (ops.length) emit('change', ops, `${props.array.name}: ${label}`)
}
function figure(
  event: Event,
  key: 'series' | 'parallel' | 'tilt' | 'azimuth',
  what: string,
  least: number,
  most: number,
) {
  const field = event.target as HTMLInputElement
  const point = key === 'azimuth' ? azimuthOf(field.value) : null
  const parsed = parseNumber(point === null ? field.value : String(point))
  const whole = key === 'series' || key === 'parallel'
  if (!parsed.ok || parsed.value < least || parsed.value > most || (whole && !Number.isInteger(parsed.value))) {
    problem.value = `${props.array.name}, ${what}: ${parsed.ok ? `${whole ? 'a whole number ' : ''}from ${least} to ${most} is wanted, not ${field.value}` : parsed.why}.`
    field.value = String(props.array[key])
    return
  }
  if (point !== null) field.value = String(parsed.value)
  set({ [key]: parsed.value }, `${what} ${number(parsed.value, 1)}`)
}
function rename(event: Event) {
  const name = (event.target as HTMLInputElement).value.trim()
  if (name) set({ name }, `now ${name}`)
}
const pickPanel = (event: Event) => {
  const id = (event.target as HTMLSelectElement).value
  set({ panel: id }, props.panels.find((p) => p.id === id)?.name ?? id)
}
const pickInput = (event: Event) => {
  const input = Number((event.target as HTMLSelectElement).value)
  set({ input }, `input ${input}`)
}
const taken = (i: number) =>
  Object.values(props.plan.arrays).some(
    (a) => a.id !== props.array.id && a.source === props.array.source && !a.ac && a.input === i,
  )
/** What an array can be joined to: a station's input, or the controller of a bank. */
const joins = computed(() => [
  ...Object.keys(props.plan.sources ?? {}).map((id) => ({
    id,
    name: verdict.value?.parts.find((p) => p.source === id)?.name ?? id,
  })),
  ...Object.values(props.plan.banks ?? {})
    .filter((b) => b.controller_w > 0)
    .map((b) => ({ id: b.id, name: `${b.name}, its controller` })),
])
const join = (event: Event) => {
  const id = (event.target as HTMLSelectElement).value
  set({ source: id, input: 1 }, `joined to ${joins.value.find((j) => j.id === id)?.name ?? id}`)
}
const cable = (cord: Cord | null) => set({ cord }, cord ? 'its cable' : 'cable not known')
const shade = (list: Shade[]) => set({ shade: list }, 'shade')
</script>

<template>
  <form novalidate class="array fields stacked" @submit.prevent>
    <label>Name <input v-kept="array.name" maxlength="80" @change="rename" /></label>
    <label
      >Panel
      <select :value="array.panel" @change="pickPanel">
        <option v-for="p in panels" :key="p.id" :value="p.id">
          {{ p.name }}, {{ p.w }} W{{ p.portable ? ', folding' : '' }}
        </option>
      </select></label
    >
    <p v-if="panel" class="soft small">
      {{ panel.voc_v }} V open, {{ panel.vmp_v }} V and {{ panel.imp_a }} A at full power, {{ panel.isc_a }} A
      short-circuited<template v-if="!array.owned"
        >; {{ array.series * array.parallel }} {{ array.series * array.parallel === 1 ? 'costs' : 'cost' }}
        {{ money(array.series * array.parallel * Number(panel.price), panel.currency) }}</template
      >.
    </p>
    <div class="two">
      <label
        >In series
        <input v-kept="array.series" inputmode="numeric" @change="figure($event, 'series', 'in series', 1, 30)"
      /></label>
      <label
        >Side by side
        <input
          v-kept="array.parallel"
          inputmode="numeric"
          @change="figure($event, 'parallel', 'strings side by side', 1, 20)"
      /></label>
    </div>
    <div class="two">
      <label
        >Faces, °
        <input v-kept="array.azimuth" inputmode="decimal" @change="figure($event, 'azimuth', 'faces', 0, 360)" /><small
          class="soft"
          >{{ compass(array.azimuth) }}</small
        ></label
      >
      <label
        >Tilt, ° <input v-kept="array.tilt" inputmode="decimal" @change="figure($event, 'tilt', 'tilt', 0, 90)" /><small
          class="soft"
          >0 flat, 90 upright</small
        ></label
      >
    </div>
    <label v-if="joins.length > 1"
      >Joined to
      <select :value="array.source" aria-label="Joined to" @change="join">
        <option v-for="j in joins" :key="j.id" :value="j.id">{{ j.name }}</option>
      </select></label
    >
    <label v-if="!array.ac"
      >Solar input
      <select :value="array.input" @change="pickInput">
        <option v-if="array.input > inputs" :value="array.input">{{ array.input }}, which this station has not</option>
        <option v-for="i in inputs" :key="i" :value="i" :disabled="taken(i)">
          {{ i }}{{ taken(i) ? ', taken' : '' }}
        </option>
      </select></label
    >
    <CordPicker label="Cable" :cord="array.cord" :metric="metric" @change="cable" @problem="(t) => (problem = t)" />
    <ShadeEditor :shade="array.shade" @change="shade" @problem="(t) => (problem = t)" />
    <label class="check"
      ><input
        type="checkbox"
        :checked="array.ac"
        @change="set({ ac: !array.ac }, array.ac ? 'on a solar input' : 'with an inverter of its own')"
      />
      with an inverter of its own, on the house's AC side</label
    >
    <label class="check"
      ><input
        type="checkbox"
        :checked="array.owned"
        @change="set({ owned: !array.owned }, array.owned ? 'to be bought' : 'there already')"
      />
      there already, costs nothing</label
    >
    <button type="button" class="btn tiny" @click="emit('remove')">Remove this array</button>
  </form>
</template>

<style scoped>
.array > label input:not([type]),
.array > label select,
.two input {
  width: 100%;
  font-size: 14px;
}
p {
  margin: -3px 0 0;
}
.btn {
  justify-self: start;
}
</style>

<script setup lang="ts">
import { computed } from 'vue'
import type { Cord, Op, Panel, Plan, Shade, SolarArray } from '@/shared/api/types'
import { useSession } from '@/shared/session/session'
import { money, number, parseNumber } from '@/shared/units/format'
import CordPicker from '@/shared/ui/fields/CordPicker.vue'
import { azimuthOf, compass, setArray } from '../model'
import SetOutForm from './SetOutForm.vue'
import ShadeEditor from './ShadeEditor.vue'
import Choice from '@/shared/ui/fields/Choice.vue'
import KeptInput from '@/shared/ui/fields/KeptInput.vue'

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
  typed: string,
  key: 'series' | 'parallel' | 'tilt' | 'azimuth',
  what: string,
  least: number,
  most: number,
) {
  const point = key === 'azimuth' ? azimuthOf(typed) : null
  const parsed = parseNumber(point === null ? typed : String(point))
  const whole = key === 'series' || key === 'parallel'
  if (!parsed.ok || parsed.value < least || parsed.value > most || (whole && !Number.isInteger(parsed.value))) {
    problem.value = `${props.array.name}, ${what}: ${parsed.ok ? `enter ${whole ? 'a whole number from ' : ''}${least} to ${most}, not ${typed}` : parsed.why}.`
    return
  }
  set({ [key]: parsed.value }, `${what} ${number(parsed.value, 1)}`)
}
function rename(name: string) {
  if (name) set({ name }, `now ${name}`)
}
const pickPanel = (id: string) => {
  set({ panel: id }, props.panels.find((p) => p.id === id)?.name ?? id)
}
const pickInput = (input: number) => {
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
const join = (id: string) => {
  set({ source: id, input: 1 }, `connected to ${joins.value.find((j) => j.id === id)?.name ?? id}`)
}
const cable = (cord: Cord | null) => set({ cord }, cord ? 'its cable' : 'cable not known')
const shade = (list: Shade[]) => set({ shade: list }, 'shade')
</script>

<template>
  <form novalidate class="array fields stacked" @submit.prevent>
    <label>Name <KeptInput :value="array.name" maxlength="80" label="Name" @keep="rename" /></label>
    <label
      >Panel
      <Choice :model-value="array.panel" label="Panel" @change="pickPanel">
        <el-option
          v-for="p in panels"
          :key="p.id"
          :value="p.id"
          :label="`${p.name}, ${p.w} W${p.portable ? ', folding' : ''}`"
        /> </Choice
    ></label>
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
        <KeptInput
          :value="array.series"
          inputmode="numeric"
          label="In series"
          @keep="figure($event, 'series', 'in series', 1, 30)"
      /></label>
      <label
        >Side by side
        <KeptInput
          :value="array.parallel"
          inputmode="numeric"
          label="Side by side"
          @keep="figure($event, 'parallel', 'strings side by side', 1, 20)"
      /></label>
    </div>
    <div class="two">
      <label
        >Faces, °
        <KeptInput
          :value="array.azimuth"
          inputmode="decimal"
          label="Faces, °"
          @keep="figure($event, 'azimuth', 'faces', 0, 360)"
        /><small class="soft">{{ compass(array.azimuth) }}</small></label
      >
      <label
        >Tilt, °
        <KeptInput
          :value="array.tilt"
          inputmode="decimal"
          label="Tilt, °"
          @keep="figure($event, 'tilt', 'tilt', 0, 90)"
        /><small class="soft">0 flat, 90 upright</small></label
      >
    </div>
    <label v-if="joins.length > 1"
      >Connected to
      <Choice :model-value="array.source" label="Connected to" @change="join">
        <el-option v-for="j in joins" :key="j.id" :value="j.id" :label="j.name" /> </Choice
    ></label>
    <label v-if="!array.ac"
      >Solar input
      <Choice :model-value="array.input" label="Solar input" @change="pickInput">
        <el-option
          v-if="array.input > inputs"
          :value="array.input"
          :label="`${array.input}, which this station has not`"
        />
        <el-option
          v-for="i in inputs"
          :key="i"
          :value="i"
          :disabled="taken(i)"
          :label="`${i}${taken(i) ? ', taken' : ''}`"
        /> </Choice
    ></label>
    <CordPicker label="Cable" :cord="array.cord" :metric="metric" @change="cable" @problem="(t) => (problem = t)" />
    <SetOutForm
      v-if="!array.ac"
      :out="array.set_out ?? null"
      :folds="panel?.portable ?? false"
      @change="(out, label) => set({ set_out: out }, label)"
    />
    <ShadeEditor :shade="array.shade" @change="shade" @problem="(t) => (problem = t)" />
    <el-checkbox
      class="check"
      :model-value="array.ac"
      @change="set({ ac: !array.ac }, array.ac ? 'on a solar input' : 'with its own inverter')"
      >with its own inverter, on the house's AC side</el-checkbox
    >
    <el-checkbox
      class="check"
      :model-value="array.owned"
      @change="set({ owned: !array.owned }, array.owned ? 'to buy' : 'already owned')"
      >already owned, costs nothing</el-checkbox
    >
    <el-button class="btn tiny" @click="emit('remove')">Remove this array</el-button>
  </form>
</template>

<style scoped>
.array > label .el-input,
.array > label .choice,
.two .el-input {
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

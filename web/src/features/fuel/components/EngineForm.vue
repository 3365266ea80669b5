<script setup lang="ts">
import { computed } from 'vue'
import type { Engine, Generator, Plan, Window } from '@/shared/api/types'
import { useSession } from '@/shared/session/session'
import { money, number, parseNumber } from '@/shared/units/format'
import WindowsEditor from '@/shared/ui/fields/WindowsEditor.vue'
import MeasureInput from '@/shared/ui/fields/MeasureInput.vue'
import { measured, measures } from '@/shared/units/measures'
import Choice from '@/shared/ui/fields/Choice.vue'
import KeptInput from '@/shared/ui/fields/KeptInput.vue'

/** Which generator, how it is run, how much fuel is there. */
const props = defineProps<{ engine: Engine; plan: Plan; generators: Generator[]; sources: Plan['sources'] }>()
const emit = defineEmits<{ change: [Partial<Engine>, string] }>()
const { problem, verdict } = useSession()
const nameOf = (key: string | number) => verdict.value?.parts.find((p) => p.source === key)?.name ?? String(key)
const others = computed(() => Object.keys(props.sources).filter((k) => k !== props.engine.source))
function fillFirst(key: string) {
  const also = props.engine.also.filter((k) => k !== key)
  emit('change', { source: key, also }, `Generator: fills ${nameOf(key)}`)
}
function fillToo(key: string) {
  const on = !props.engine.also.includes(key)
  const also = on ? [...props.engine.also, key] : props.engine.also.filter((k) => k !== key)
  emit('change', { also }, `Generator: ${on ? 'then fills' : 'no longer fills'} ${nameOf(key)}`)
}
const made = computed(() => props.generators.find((g) => g.id === props.engine.generator))

function figure(typed: string, key: 'start_at' | 'stop_at', what: string, most: number, scale = 1) {
  const parsed = parseNumber(typed)
  if (!parsed.ok || parsed.value < 0 || parsed.value > most) {
    problem.value = `Generator, ${what}: ${parsed.ok ? `enter 0 to ${most}, not ${typed}` : parsed.why}.`
    return
  }
  emit('change', { [key]: parsed.value / scale }, `Generator: ${what} ${number(parsed.value, 1)}`)
}
function pick(id: string) {
  emit('change', { generator: id }, `Generator: ${props.generators.find((g) => g.id === id)?.name ?? id}`)
}
const windows = computed({
  get: () => props.engine.windows as Window[],
  set: (value) => emit('change', { windows: value }, 'Generator: when it may run'),
})
const FUEL = computed(() => ({
  petrol: measures.value.system === 'us' ? 'Gasoline' : 'Petrol',
  propane: 'Propane',
  diesel: 'Diesel',
}))
</script>

<template>
  <form novalidate class="fields engine stacked" @submit.prevent>
    <label
      >Generator
      <Choice :model-value="engine.generator" label="Generator" @change="pick">
        <el-option v-for="g in generators" :key="g.id" :value="g.id" :label="`${g.name}, ${g.running_w} W`" /> </Choice
    ></label>
    <p v-if="made" class="soft small">
      {{ number(made.running_w) }} W running, {{ number(made.surge_w) }} W for a start. {{ FUEL[made.fuel] }}:
      {{ measured('volume', made.half_l_h) }}/h at half, {{ measured('volume', made.full_l_h) }}/h at full load, tank
      {{ measured('volume', made.tank_l) }}.
      {{ made.start === 'by_itself' ? 'Starts by itself when called.' : 'Started by hand.' }}
      {{ measured('mass', made.weight_kg) }}, {{ made.noise_db }} dB<template v-if="!engine.owned"
        >, {{ money(made.price, made.currency) }}</template
      >.
    </p>
    <label
      >Fuel on hand
      <MeasureInput
        kind="volume"
        label="Fuel on hand"
        :value="engine.stock_l"
        :least="0"
        :most="10000"
        @keep="(v) => v !== null && emit('change', { stock_l: v }, `Generator: fuel at hand ${measured('volume', v)}`)"
      />
    </label>
    <div class="two">
      <label
        >Starts at (%)
        <KeptInput
          :value="Math.round(100 * engine.start_at)"
          inputmode="numeric"
          label="Starts at (%)"
          @keep="figure($event, 'start_at', 'starts at, %', 95, 100)"
      /></label>
      <label
        >Stops at (%)
        <KeptInput
          :value="Math.round(100 * engine.stop_at)"
          inputmode="numeric"
          label="Stops at (%)"
          @keep="figure($event, 'stop_at', 'stops at, %', 100, 100)"
      /></label>
    </div>
    <fieldset>
      <legend>May run</legend>
      <p v-if="!windows.length" class="soft small">At any hour. Add hours to keep the night quiet.</p>
      <WindowsEditor v-model="windows" />
    </fieldset>
    <label v-if="Object.keys(sources).length > 1"
      >Fills
      <Choice :model-value="engine.source" label="Fills" @change="fillFirst">
        <el-option v-for="(_, key) in sources" :key="key" :value="key" :label="nameOf(key)" />
      </Choice>
    </label>
    <el-checkbox
      v-for="key in others"
      :key="key"
      class="check"
      :model-value="engine.also.includes(key)"
      @change="fillToo(key)"
      >then fills {{ nameOf(key) }} with what is left</el-checkbox
    >
    <el-checkbox
      class="check"
      :model-value="engine.charges"
      @change="
        emit(
          'change',
          { charges: !engine.charges },
          engine.charges ? 'Generator: only feeds the loads' : 'Generator: charges the station too',
        )
      "
      >the station’s input charges from it</el-checkbox
    >
    <el-checkbox
      class="check"
      :model-value="engine.owned"
      @change="
        emit('change', { owned: !engine.owned }, engine.owned ? 'Generator: to buy' : 'Generator: already owned')
      "
      >already owned, costs nothing</el-checkbox
    >
  </form>
</template>

<style scoped>
.el-input,
.engine > label > .choice {
  width: 100%;
  font-size: 14px;
}
p {
  margin: -3px 0 0;
}
fieldset {
  margin: 0;
  padding: 6px 10px 8px;
  border: 1px solid var(--line);
  border-radius: 8px;
}
legend {
  padding: 0 4px;
  color: var(--soft);
  font-size: 13px;
}
fieldset :deep(li) {
  flex-wrap: wrap;
}
</style>

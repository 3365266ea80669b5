<script setup lang="ts">
import { computed } from 'vue'
import type { Cord, Home, Op, Plan, Source, Station, PlanPath } from '@/shared/api/types'
import { escape } from '@/shared/session/patch'
import { edit, useSession } from '@/shared/session/session'
import { number, parseNumber } from '@/shared/units/format'
import CordPicker from '@/shared/ui/fields/CordPicker.vue'
import Choice from '@/shared/ui/fields/Choice.vue'
import KeptInput from '@/shared/ui/fields/KeptInput.vue'

/** How a station is joined and charged: its cord to each inlet it feeds, the charger's watts and its circuit. */
const props = defineProps<{ plan: Plan; home: Home; source: Source; station: Station; modules: number }>()
const { problem, verdict } = useSession()
const most = computed(() => props.station.charge_w + props.modules * props.station.charge_w_per_module)
const devices = computed(() => Object.values(props.plan.devices).filter((d) => d.source === props.source.id))
const nameOf = (device: string) => verdict.value?.boards.find((b) => b.device === device)?.name ?? device
const volts = computed(() => (props.station.volts === '230' ? 230 : 120))

function set(path: PlanPath, value: unknown, label: string) {
  const op: Op = { doc: props.plan.id, op: 'replace', path, value }
  edit(label, [op])
}
const at = (field: keyof Source) => `/sources/${escape(props.source.id)}/${field}` as const

/** “900”, “900 W” or “8 A”, as the charger has it. */
function charge(text: string) {
  if (!text) return set(at('charge_w'), null, 'Charging at full power')
  const amps = /^(.*?)\s*a(mps?)?$/i.exec(text)
  const parsed = parseNumber((amps?.[1] ?? text).replace(/\s*w$/i, ''))
  if (!parsed.ok || parsed.value < 0) {
    problem.value = `Charging: ${parsed.ok ? 'it cannot be below 0.' : parsed.why}`
    return
  }
  const watts = amps ? parsed.value * volts.value : parsed.value
  const said = amps ? `${number(parsed.value, 1)} A, ${number(watts)} W` : `${number(watts)} W`
  set(at('charge_w'), watts, `Charging at ${said}`)
}
/** The names of its settings, each listed as “name: ms, W”. */
const settings = computed(() =>
  props.station.settings
    .split(';')
    .map((row) => row.split(':')[0]?.trim() ?? '')
    .filter(Boolean),
)
function setting(name: string) {
  set(at('setting'), name, name ? `Setting ${name}` : 'Setting as listed')
}
function circuit(id: string) {
  set(
    at('charge_circuit'),
    id || null,
    id ? `Charging on ${props.home.circuits[id]?.name}` : 'Charging circuit not known',
  )
}
const cord = (device: string, c: Cord | null) =>
  set(`/devices/${escape(device)}/cord`, c, c ? 'Cord to the inlet' : 'Cord to the inlet not known')
</script>

<template>
  <section>
    <h3>Connected and charged</h3>
    <CordPicker
      v-for="d in devices"
      :key="d.id"
      :label="devices.length > 1 ? `Cord to ${nameOf(d.id)}` : 'Cord to the inlet'"
      :cord="d.cord"
      :metric="home.service.volts === 230"
      @change="cord(d.id, $event)"
      @problem="(text) => (problem = text)"
    />
    <label
      >charges at
      <KeptInput
        :value="source.charge_w ?? ''"
        :placeholder="most ? `${number(most)} W, all it takes` : 'not listed'"
        inputmode="decimal"
        label="Charging (W or A)"
        @keep="charge"
      />
      W or A</label
    >
    <label v-if="settings.length"
      >setting
      <Choice :model-value="source.setting" label="Station setting" @change="setting">
        <el-option value="" label="as listed" />
        <el-option v-for="s in settings" :key="s" :value="s" :label="s" /> </Choice
    ></label>
    <label v-if="Object.keys(home.circuits).length"
      >from
      <Choice :model-value="source.charge_circuit ?? ''" label="Charging circuit" @change="circuit">
        <el-option value="" label="outlet not named" />
        <el-option
          v-for="c in home.circuits"
          :key="c.id"
          :value="c.id"
          :label="`${c.slots.join('·')} ${c.name}`"
        /> </Choice
    ></label>
  </section>
</template>

<style scoped>
section {
  margin: 12px 0;
}
h3 {
  margin-bottom: 4px;
}
label {
  display: flex;
  gap: 6px;
  align-items: center;
  margin-top: 6px;
  font-size: 13px;
}
.el-input,
.choice {
  flex: 1;
  min-width: 0;
}
</style>

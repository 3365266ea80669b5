<script setup lang="ts">
import { computed } from 'vue'
import type { Cord, Home, Op, Plan, Station } from '@/shared/api/types'
import { edit, useSession } from '@/shared/session'
import { number, parseNumber } from '@/shared/units/format'
import CordPicker from '@/shared/ui/CordPicker.vue'

/** How the station is joined and charged: its cord to the inlet, the charger's watts and its circuit. */
const props = defineProps<{ plan: Plan; home: Home; station: Station; modules: number; cords: boolean }>()
const { problem } = useSession()
const most = computed(() => props.station.charge_w + props.modules * props.station.charge_w_per_module)

function set(path: string, value: unknown, label: string) {
  const op: Op = { doc: props.plan.id, op: 'replace', path, value }
  edit(label, [op])
}
function charge(event: Event) {
  const text = (event.target as HTMLInputElement).value.trim()
  const parsed = parseNumber(text)
  if (text && (!parsed.ok || parsed.value < 0))
    problem.value = `Charging: ${parsed.ok ? 'it cannot be below 0.' : parsed.why}`
  else
    set(
      '/charge_w',
      text ? parsed.value : null,
      text ? `Charging at ${number(parsed.value)} W` : 'Charging at all it takes',
    )
}
function circuit(event: Event) {
  const id = (event.target as HTMLSelectElement).value
  set('/charge_circuit', id || null, id ? `Charging on ${props.home.circuits[id]?.name}` : 'Charging circuit not known')
}
const cord = (c: Cord | null) => set('/inlet_cord', c, c ? 'Cord to the inlet' : 'Cord to the inlet not known')
</script>

<template>
  <section>
    <h3>Joined and charged</h3>
    <CordPicker
      v-if="!cords"
      label="Cord to the inlet"
      :cord="plan.inlet_cord"
      :metric="home.service.volts === 230"
      @change="cord"
      @problem="(text) => (problem = text)"
    />
    <label
      >charges at
      <input
        v-kept="plan.charge_w ?? ''"
        :placeholder="`${number(most)} W, all it takes`"
        inputmode="decimal"
        aria-label="Charging W"
        @change="charge"
      />
      W</label
    >
    <label v-if="Object.keys(home.circuits).length"
      >from
      <select :value="plan.charge_circuit ?? ''" aria-label="Charging circuit" @change="circuit">
        <option value="">a receptacle not named</option>
        <option v-for="c in home.circuits" :key="c.id" :value="c.id">{{ c.slots.join('·') }} {{ c.name }}</option>
      </select></label
    >
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
input,
select {
  flex: 1;
  min-width: 0;
  min-height: 30px;
  padding: 1px 6px;
  border: 1px solid var(--line-strong);
  border-radius: 6px;
  background: var(--sheet);
  color: var(--ink);
  font: inherit;
}
</style>

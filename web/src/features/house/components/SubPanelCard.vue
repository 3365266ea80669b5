<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { answer, api } from '@/shared/api/client'
import type { Op, SubPanel } from '@/shared/api/types'
import { escape } from '@/shared/patch'
import { edit, useSession } from '@/shared/session'
import { parseNumber } from '@/shared/units/format'
import { removePanel } from '../model'
import MeasureInput from '@/shared/ui/MeasureInput.vue'
import { measured } from '@/shared/units/measures'

/** A panel behind a feeder: its breaker, wire, neutral and length, each changed in place. */
const props = defineProps<{ panel: SubPanel }>()
const emit = defineEmits<{ gone: [] }>()
const { state, home, problem } = useSession()
const base = computed(() => `/panels/${escape(props.panel.id)}`)
const table = useQuery({ queryKey: ['wires'], queryFn: () => answer(api.GET('/api/wires')), staleTime: Infinity })
const sizes = computed(() => {
  const metric = home.value?.service.volts === 230
  return (table.data.value ?? []).filter((w) => w.metric === metric && w.fixed_a > 0)
})
const others = computed(() => Object.values(home.value?.panels ?? {}).filter((p) => p.id !== props.panel.id))
const text = (event: Event) => (event.target as HTMLInputElement).value.trim()

function set<K extends keyof SubPanel>(field: K, value: SubPanel[K], what: string) {
  if (value === props.panel[field]) return
  const op: Op = { doc: 'home', op: 'replace', path: `${base.value}/${field}`, value }
  edit(`${props.panel.name}: ${what}`, [op])
}
function figure(field: 'feeder_a' | 'length_m' | 'slots', unit: string, event: Event) {
  const parsed = parseNumber(text(event).replace(/\s*(a|m)$/i, ''))
  if (!parsed.ok) problem.value = `${props.panel.name}, ${field === 'feeder_a' ? 'feeder' : 'length'}: ${parsed.why}`
  else set(field, parsed.value, `${parsed.value} ${unit}`)
}
function slots(event: Event) {
  const found = text(event)
    .split(/[\s,]+/)
    .filter(Boolean)
    .map(Number)
  if (found.some((s) => !Number.isInteger(s) || s < 1)) {
    problem.value = `${props.panel.name}, feeder slots: give whole numbers such as 37, 39.`
    return
  }
  edit(`${props.panel.name}: feeder in slot ${found.join(' and ')}`, [
    { doc: 'home', op: 'replace', path: `${base.value}/feeder_slots`, value: found },
  ])
}
function remove() {
  if (state.value) edit(`Panel removed: ${props.panel.name}`, removePanel(state.value, props.panel.id))
  emit('gone')
}
</script>

<template>
  <div class="card">
    <h2>
      <input
        v-kept="panel.name"
        aria-label="Panel name"
        maxlength="80"
        @change="text($event) && set('name', text($event), text($event))"
      />
    </h2>
    <div class="facts">
      <label
        >fed from
        <select :value="panel.behind ?? ''" @change="set('behind', text($event) || null, 'another panel feeds it')">
          <option value="">the main panel</option>
          <option v-for="p in others" :key="p.id" :value="p.id">{{ p.name }}</option>
        </select></label
      >
      <label
        >feeder
        <input
          v-kept="`${panel.feeder_a} A`"
          class="n"
          data-figure
          aria-label="Feeder breaker"
          @change="figure('feeder_a', 'A feeder', $event)"
      /></label>
      <label
        >in slots
        <input v-kept="panel.feeder_slots.join(', ')" class="n" aria-label="Slots of the feeder" @change="slots"
      /></label>
      <label
        >wire
        <input
          v-kept="panel.wire"
          class="m"
          placeholder="unknown"
          list="feeder-sizes"
          aria-label="Wire of the feeder"
          @change="set('wire', text($event), `wire ${text($event)}`)"
      /></label>
      <label
        >neutral
        <input
          v-kept="panel.neutral_wire"
          class="m"
          placeholder="as thick"
          list="feeder-sizes"
          aria-label="Neutral of the feeder"
          @change="set('neutral_wire', text($event), `neutral ${text($event)}`)"
      /></label>
      <datalist id="feeder-sizes"><option v-for="w in sizes" :key="w.id" :value="w.name" /></datalist>
      <label
        >length
        <MeasureInput
          kind="length"
          label="Length of the feeder"
          :value="panel.length_m"
          :least="0"
          :most="500"
          @keep="(v) => v !== null && set('length_m', v, `${measured('length', v)} long`)"
      /></label>
      <label
        >slots
        <input
          v-kept="panel.slots"
          class="n"
          aria-label="Slots of the panel"
          @change="figure('slots', 'slots', $event)"
      /></label>
      <button class="link soft" @click="remove">remove</button>
    </div>
  </div>
</template>

<style scoped>
.card {
  margin-bottom: 12px;
  padding-bottom: 8px;
  border-bottom: 1px solid var(--line);
}
h2 input {
  width: 100%;
  border: 1px solid transparent;
  border-radius: 6px;
  background: none;
  color: inherit;
  font: inherit;
}
h2 input:hover,
h2 input:focus-visible {
  border-color: var(--line-strong);
}
.facts {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 14px;
  align-items: center;
  font-size: 13px;
}
label {
  display: flex;
  gap: 5px;
  align-items: center;
  color: var(--soft);
}
.facts input,
select {
  min-height: 28px;
  padding: 1px 6px;
  border: 1px solid var(--line);
  border-radius: 6px;
  background: var(--sheet);
  color: var(--ink);
  font: inherit;
}
.n {
  width: 64px;
}
.m {
  width: 92px;
}
</style>

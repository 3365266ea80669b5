<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { answer, api } from '@/shared/api/client'
import type { Op, SubPanel } from '@/shared/api/types'
import { escape } from '@/shared/session/patch'
import { edit, useSession } from '@/shared/session/session'
import { parseNumber } from '@/shared/units/format'
import { removePanel } from '../model'
import MeasureInput from '@/shared/ui/fields/MeasureInput.vue'
import { measured } from '@/shared/units/measures'
import Choice from '@/shared/ui/fields/Choice.vue'
import KeptInput from '@/shared/ui/fields/KeptInput.vue'

/** A panel behind a feeder: its breaker, wire, neutral and length, each changed in place. */
const props = defineProps<{ panel: SubPanel }>()
const emit = defineEmits<{ gone: [] }>()
const { state, home, problem } = useSession()
const base = computed(() => `/panels/${escape(props.panel.id)}` as const)
const table = useQuery({ queryKey: ['wires'], queryFn: () => answer(api.GET('/api/wires')), staleTime: Infinity })
const sizes = computed(() => {
  const metric = home.value?.service.volts === 230
  return (table.data.value ?? []).filter((w) => w.metric === metric && w.fixed_a > 0)
})
const others = computed(() => Object.values(home.value?.panels ?? {}).filter((p) => p.id !== props.panel.id))

function set<K extends keyof SubPanel>(field: K, value: SubPanel[K], what: string) {
  if (value === props.panel[field]) return
  const op: Op = { doc: 'home', op: 'replace', path: `${base.value}/${field}`, value }
  edit(`${props.panel.name}: ${what}`, [op])
}
function figure(field: 'feeder_a' | 'length_m' | 'slots', unit: string, typed: string) {
  const parsed = parseNumber(typed.replace(/\s*(a|m)$/i, ''))
  if (!parsed.ok) problem.value = `${props.panel.name}, ${field === 'feeder_a' ? 'feeder' : 'length'}: ${parsed.why}`
  else set(field, parsed.value, `${parsed.value} ${unit}`)
}
function slots(typed: string) {
  const found = typed
    .split(/[\s,]+/)
    .filter(Boolean)
    .map(Number)
  if (found.some((s) => !Number.isInteger(s) || s < 1)) {
    problem.value = `${props.panel.name}, feeder slots: enter whole numbers such as 37, 39.`
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
      <KeptInput :value="panel.name" label="Panel name" maxlength="80" @keep="$event && set('name', $event, $event)" />
    </h2>
    <div class="facts">
      <label
        >powered from
        <Choice
          :model-value="panel.behind ?? ''"
          label="powered from"
          @change="set('behind', $event || null, 'another panel feeds it')"
        >
          <el-option value="" label="the main panel" />
          <el-option v-for="p in others" :key="p.id" :value="p.id" :label="p.name" /> </Choice
      ></label>
      <label
        >feeder
        <KeptInput
          :value="`${panel.feeder_a} A`"
          class="n"
          data-figure
          label="Feeder breaker"
          @keep="figure('feeder_a', 'A feeder', $event)"
      /></label>
      <label
        >in slots <KeptInput :value="panel.feeder_slots.join(', ')" class="n" label="Feeder slots" @keep="slots"
      /></label>
      <label
        >wire
        <KeptInput
          :value="panel.wire"
          class="m"
          placeholder="unknown"
          list="feeder-sizes"
          label="Feeder wire"
          @keep="set('wire', $event, `wire ${$event}`)"
      /></label>
      <label
        >neutral
        <KeptInput
          :value="panel.neutral_wire"
          class="m"
          placeholder="as thick"
          list="feeder-sizes"
          label="Feeder neutral"
          @keep="set('neutral_wire', $event, `neutral ${$event}`)"
      /></label>
      <datalist id="feeder-sizes"><option v-for="w in sizes" :key="w.id" :value="w.name" /></datalist>
      <label
        >length
        <MeasureInput
          kind="length"
          label="Feeder length"
          :value="panel.length_m"
          :least="0"
          :most="500"
          @keep="(v) => v !== null && set('length_m', v, `${measured('length', v)} long`)"
      /></label>
      <label
        >slots <KeptInput :value="panel.slots" class="n" label="Panel slots" @keep="figure('slots', 'slots', $event)"
      /></label>
      <el-button class="link soft" @click="remove">remove</el-button>
    </div>
  </div>
</template>

<style scoped>
.card {
  margin-bottom: 12px;
  padding-bottom: 8px;
  border-bottom: 1px solid var(--line);
}
h2 .el-input {
  width: 100%;
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
.n {
  width: 64px;
}
.m {
  width: 92px;
}
</style>

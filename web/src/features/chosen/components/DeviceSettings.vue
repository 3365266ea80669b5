<script setup lang="ts">
import { computed } from 'vue'
import type { BoardView, Home, Op, Plan, TransferEquipment } from '@/shared/api/types'
import { escape } from '@/shared/patch'
import { edit } from '@/shared/session'
import { feedDeviceBy, removeDevice } from '../devices'

/** Where a device stands, what feeds it and what it hangs behind; its bypass; taking it away. */
const props = defineProps<{
  board: BoardView
  boards: BoardView[]
  plan: Plan
  home: Home
  equipment: TransferEquipment
}>()
const emit = defineEmits<{ gone: [] }>()
const device = computed(() => props.plan.devices[props.board.device])
const panels = computed(() => Object.values(props.home.panels))
const others = computed(() => props.boards.filter((b) => b.device && b.device !== props.board.device))
const sources = computed(() => Object.values(props.plan.sources).filter((s) => !s.after))
const nameOf = (source: string) => props.boards.find((b) => b.source === source && b.station)?.station ?? source
const value = (event: Event) => (event.target as HTMLSelectElement).value
const bypass = computed(() => ['inverter_bypass', 'main_gateway'].includes(props.equipment.kind))

function set(field: 'panel' | 'behind' | 'bypassed', to: unknown, words: string) {
  const op: Op = {
    doc: props.plan.id,
    op: 'replace',
    path: `/devices/${escape(props.board.device)}/${field}`,
    value: to,
  }
  edit(words, [op])
}
function panel(event: Event) {
  const id = value(event) || null
  set('panel', id, `${props.equipment.name} at ${id ? props.home.panels[id]?.name : 'the main panel'}`)
}
function behind(event: Event) {
  const id = value(event) || null
  const name = others.value.find((b) => b.device === id)?.name
  set('behind', id, `${props.equipment.name} ${name ? `behind ${name}` : 'on the grid'}`)
}
function source(event: Event) {
  const id = value(event)
  const change = feedDeviceBy(props.plan, props.board.device, id, `${props.equipment.name} on ${nameOf(id)}`)
  edit(change.label, change.ops)
}
function remove() {
  const change = removeDevice(props.plan, props.board.device, props.equipment.name)
  edit(change.label, change.ops)
  emit('gone')
}
</script>

<template>
  <div v-if="device" class="where">
    <label v-if="panels.length"
      >Stands at
      <select :value="device.panel ?? ''" aria-label="Panel it stands at" @change="panel">
        <option value="">the main panel</option>
        <option v-for="p in panels" :key="p.id" :value="p.id">{{ p.name }}</option>
      </select></label
    >
    <label v-if="sources.length > 1"
      >Fed by
      <select :value="device.source" aria-label="Source that feeds it" @change="source">
        <option v-for="s in sources" :key="s.id" :value="s.id">{{ nameOf(s.id) }}</option>
      </select></label
    >
    <label v-if="others.length"
      >Its grid side
      <select :value="device.behind ?? ''" aria-label="What its grid side hangs on" @change="behind">
        <option value="">on the grid</option>
        <option v-for="b in others" :key="b.device" :value="b.device">behind {{ b.name }}</option>
      </select></label
    >
    <label v-if="bypass" class="check"
      ><input
        type="checkbox"
        :checked="device.bypassed"
        @change="set('bypassed', !device.bypassed, device.bypassed ? 'Back in service' : 'Out by its bypass')"
      />
      out by its service bypass</label
    >
    <button v-if="others.length" class="link small" @click="remove">take this device away</button>
  </div>
</template>

<style scoped>
.where {
  display: grid;
  gap: 5px;
  margin: 0 0 10px;
  font-size: 13px;
}
label {
  display: grid;
  grid-template-columns: 78px 1fr;
  gap: 6px;
  align-items: center;
}
.check {
  display: flex;
}
.link {
  justify-self: start;
}
</style>

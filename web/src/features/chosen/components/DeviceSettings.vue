<script setup lang="ts">
import { computed } from 'vue'
import type { BoardView, Home, Op, Plan, TransferEquipment } from '@/shared/api/types'
import { escape } from '@/shared/session/patch'
import { edit } from '@/shared/session/session'
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
/** A select takes an empty value for none chosen. */
const NONE = 'none'
const levers = computed(() => props.equipment.kind === 'manual_switch')
const bypass = computed(() => ['inverter_bypass', 'main_gateway'].includes(props.equipment.kind))

function set(field: 'panel' | 'behind' | 'bypassed' | 'left_on', to: unknown, words: string) {
  const op: Op = {
    doc: props.plan.id,
    op: 'replace',
    path: `/devices/${escape(props.board.device)}/${field}`,
    value: to,
  }
  edit(words, [op])
}
function panel(picked: string) {
  const id = picked === NONE ? null : picked
  set('panel', id, `${props.equipment.name} at ${id ? props.home.panels[id]?.name : 'the main panel'}`)
}
function behind(picked: string) {
  const id = picked === NONE ? null : picked
  const name = others.value.find((b) => b.device === id)?.name
  set('behind', id, `${props.equipment.name} ${name ? `behind ${name}` : 'on the grid'}`)
}
function source(id: string) {
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
    <div v-if="panels.length" class="row">
      <label for="d-panel">Location</label>
      <el-select id="d-panel" :model-value="device.panel ?? NONE" size="small" @update:model-value="panel">
        <el-option :value="NONE" label="the main panel" />
        <el-option v-for="p in panels" :key="p.id" :value="p.id" :label="p.name" />
      </el-select>
    </div>
    <div v-if="sources.length > 1" class="row">
      <label for="d-source">Powered by</label>
      <el-select id="d-source" :model-value="device.source" size="small" @update:model-value="source">
        <el-option v-for="s in sources" :key="s.id" :value="s.id" :label="nameOf(s.id)" />
      </el-select>
    </div>
    <div v-if="others.length" class="row">
      <label for="d-behind">Grid side</label>
      <el-select id="d-behind" :model-value="device.behind ?? NONE" size="small" @update:model-value="behind">
        <el-option :value="NONE" label="on the grid" />
        <el-option v-for="b in others" :key="b.device" :value="b.device" :label="`behind ${b.name}`" />
      </el-select>
    </div>
    <el-checkbox
      v-if="bypass"
      class="check"
      :model-value="device.bypassed"
      @change="set('bypassed', !device.bypassed, device.bypassed ? 'Back in service' : 'Out by its bypass')"
      >bypassed for service</el-checkbox
    >
    <el-checkbox
      v-if="levers"
      class="check"
      :model-value="device.left_on"
      @change="set('left_on', !device.left_on, device.left_on ? 'Switch thrown by hand' : 'Switch left on SOURCE')"
      >Leave the levers at SOURCE, because the station passes the grid on</el-checkbox
    >
    <el-button v-if="others.length" class="link small" @click="remove">Remove this device</el-button>
  </div>
</template>

<style scoped>
.where {
  display: grid;
  gap: 5px;
  margin: 0 0 10px;
  font-size: 13px;
}
.row {
  display: grid;
  grid-template-columns: 78px minmax(0, 1fr);
  gap: 6px;
  align-items: center;
}
.check {
  display: flex;
  gap: 7px;
  align-items: baseline;
}
.link {
  justify-self: start;
}
</style>

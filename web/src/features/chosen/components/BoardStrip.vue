<script setup lang="ts">
import { computed } from 'vue'
import type { BoardView, TransferEquipment } from '@/shared/api/types'
import { boardKey } from '../model'

/** Every device of the plan and every source's outlets; one of them is looked at. Another device is added here. */
const props = defineProps<{ boards: BoardView[]; now: string; catalogue: TransferEquipment[]; several: boolean }>()
const emit = defineEmits<{ pick: [string]; add: [TransferEquipment] }>()
const wired = computed(() => props.catalogue.filter((e) => e.kind !== 'cords'))

function add(id: string) {
  const to = wired.value.find((e) => e.id === id)
  if (to) emit('add', to)
}
const filled = (b: BoardView) => (b.places ? `${b.used} of ${b.places}` : `${b.used}`)
</script>

<template>
  <div class="strip">
    <div v-if="boards.length > 1" class="boards" role="group" aria-label="Devices of this plan">
      <el-button
        v-for="b in boards"
        :key="boardKey(b)"
        :aria-pressed="boardKey(b) === now"
        @click="emit('pick', boardKey(b))"
      >
        <b>{{ b.device ? b.name : `Cords of ${b.station || 'the station'}` }}</b>
        <small>{{ b.station && b.device ? `${b.station}, ` : '' }}{{ filled(b) }} {{ b.word }}</small>
      </el-button>
    </div>
    <el-select
      v-if="several"
      model-value=""
      placeholder="Another device…"
      aria-label="Add another device"
      size="small"
      @update:model-value="add"
    >
      <el-option v-for="e in wired" :key="e.id" :value="e.id" :label="e.name" />
    </el-select>
  </div>
</template>

<style scoped>
.strip {
  display: grid;
  gap: 6px;
  margin-bottom: 8px;
}
.boards {
  display: flex;
  flex-wrap: wrap;
  gap: 5px;
}
.boards button {
  display: grid;
  flex: 1 1 140px;
  padding: 4px 9px;
  border: 1px solid var(--line-strong);
  border-radius: 7px;
  background: var(--sheet);
  color: var(--ink);
  line-height: 1.25;
  text-align: left;
}
.boards button[aria-pressed='true'] {
  border-color: var(--deep);
  box-shadow: inset 5px 0 var(--stored);
}
.boards b {
  font-weight: 600;
}
.boards small {
  color: var(--soft);
}
</style>

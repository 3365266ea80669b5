<script setup lang="ts">
import { computed } from 'vue'
import type { BoardView, TransferEquipment } from '@/shared/api/types'
import { boardKey } from '../model'

/** Every device of the plan and every source's outlets; one of them is looked at. Another device is added here. */
const props = defineProps<{ boards: BoardView[]; now: string; catalogue: TransferEquipment[]; several: boolean }>()
const emit = defineEmits<{ pick: [string]; add: [TransferEquipment] }>()
const wired = computed(() => props.catalogue.filter((e) => e.kind !== 'cords'))

function add(event: Event) {
  const field = event.target as HTMLSelectElement
  const to = wired.value.find((e) => e.id === field.value)
  field.value = ''
  if (to) emit('add', to)
}
const filled = (b: BoardView) => (b.places ? `${b.used} of ${b.places}` : `${b.used}`)
</script>

<template>
  <div class="strip">
    <div v-if="boards.length > 1" class="boards" role="group" aria-label="Devices of this plan">
      <button
        v-for="b in boards"
        :key="boardKey(b)"
        :aria-pressed="boardKey(b) === now"
        @click="emit('pick', boardKey(b))"
      >
        <b>{{ b.device ? b.name : `Cords of ${b.station || 'the station'}` }}</b>
        <small>{{ b.station && b.device ? `${b.station}, ` : '' }}{{ filled(b) }} {{ b.word }}</small>
      </button>
    </div>
    <select v-if="several" class="another" aria-label="Add another device" @change="add">
      <option value="">Another device…</option>
      <option v-for="e in wired" :key="e.id" :value="e.id">{{ e.name }}</option>
    </select>
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
.another {
  width: 100%;
}
</style>

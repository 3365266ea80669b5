<script setup lang="ts">
import { computed } from 'vue'
import type { Home, Load, Plan } from '@/shared/api/types'
import { watts } from '@/shared/units/format'
import Fig from '@/shared/ui/Fig.vue'
import type { Figures } from '../../house/model'
import { stanceOf } from '../model'

/** The loads by room, for cords. */
const props = defineProps<{ home: Home; plan: Plan; selected: string | null; figures: Figures }>()
const emit = defineEmits<{ select: [string] }>()

const rooms = computed(() => {
  const found = new Map<string, Load[]>()
  for (const load of Object.values(props.home.loads)) {
    const room = load.room || 'anywhere'
    found.set(room, [...(found.get(room) ?? []), load])
  }
  return [...found].sort(([a], [b]) => a.localeCompare(b))
})
const order = computed(() => rooms.value.flatMap(([, loads]) => loads.map((l) => l.id)))

function drag(event: DragEvent, id: string) {
  event.dataTransfer?.setData('text/plain', id)
}
function move(event: KeyboardEvent, id: string) {
  const by = { ArrowDown: 1, ArrowRight: 1, ArrowUp: -1, ArrowLeft: -1 }[event.key]
  const next = by && order.value[order.value.indexOf(id) + by]
  if (!next) return
  event.preventDefault()
  emit('select', next)
  const root = (event.currentTarget as HTMLElement).closest('.picker')
  root?.querySelector<HTMLElement>(`[data-load="${next}"]`)?.focus()
}
</script>

<template>
  <div class="picker scroll" role="group" aria-label="Loads by room">
    <template v-for="[room, loads] in rooms" :key="room">
      <h3>{{ room }}</h3>
      <el-button
        v-for="load in loads"
        :key="load.id"
        class="load"
        :class="[stanceOf(plan, { kind: 'load', id: load.id }), { selected: selected === load.id }]"
        :data-load="load.id"
        :aria-pressed="selected === load.id"
        draggable="true"
        @click="emit('select', load.id)"
        @keydown="move($event, load.id)"
        @dragstart="drag($event, load.id)"
      >
        <span>{{ load.name }}</span>
        <Fig class="soft small" :text="watts(figures[load.id]?.mean_w ?? 0)" />
      </el-button>
    </template>
  </div>
</template>

<style scoped>
.picker {
  flex: 1;
  columns: 2;
  column-gap: 8px;
  padding: 8px;
  border: 2px solid var(--line);
  border-radius: 10px;
  background: var(--well);
}
h3 {
  padding: 8px 4px 3px;
  font-size: 13px;
  color: var(--soft);
  break-after: avoid;
}
.load {
  display: flex;
  justify-content: space-between;
  gap: 6px;
  width: 100%;
  min-height: 27px;
  margin-bottom: 3px;
  padding: 2px 8px;
  border: 1px solid var(--line);
  border-radius: 5px;
  background: var(--sheet);
  text-align: left;
  font-size: 13px;
  break-inside: avoid;
}
.load.off {
  color: var(--soft);
}
.load.keep_on {
  padding-left: 14px;
  background: linear-gradient(90deg, var(--stored) 7px, var(--sheet) 7px);
}
.load.turns {
  padding-left: 14px;
  background: linear-gradient(90deg, transparent 7px, var(--sheet) 7px), var(--hatch);
}
.load.selected {
  box-shadow: 0 0 0 2px var(--stored-ink);
}
@media (max-width: 760px) {
  .picker {
    columns: 1;
  }
  .load {
    min-height: 44px;
    align-items: center;
  }
}
</style>

<script setup lang="ts">
import { computed, nextTick, ref } from 'vue'
import type { Circuit, Stance, SubPanel } from '@/shared/api/types'
import { watts } from '@/shared/units/format'
import Fig from './Fig.vue'

export interface Drawn {
  circuit: Circuit
  watts: number
  stance?: Stance | 'off'
}

/** The panel as it hangs on the wall: slots in two columns, doubles spanning two, untraced circuits dashed. */
const props = defineProps<{
  slots: number
  drawn: Drawn[]
  selected: string | null
  draggable?: boolean
  empty?: boolean
  /** Breakers that feed other panels, and lead there. */
  feeders?: SubPanel[]
}>()
const emit = defineEmits<{ select: [string]; add: [number]; drag: [string]; panel: [string] }>()

const rows = computed(() => Math.ceil(props.slots / 2))
const root = ref<HTMLElement>()

interface Cell extends Drawn {
  row: number
  span: number
  side: 'left' | 'right'
  /** Of a tandem: which half of the slot. */
  half: '' | 'first' | 'second'
}

const cells = computed<Cell[]>(() =>
  props.drawn
    .filter((d) => d.circuit.slots.length)
    .map((d) => {
      const first = Math.min(...d.circuit.slots)
      const last = Math.max(...d.circuit.slots)
      const side: Cell['side'] = first % 2 ? 'left' : 'right'
      const sameSide = (last - first) % 2 === 0
      const twins = d.circuit.tandem ? props.drawn.filter((o) => o.circuit.slots.includes(first)) : []
      const half: Cell['half'] = twins.length < 2 ? '' : twins[0] === d ? 'first' : 'second'
      return { ...d, side, half, row: Math.ceil(first / 2), span: sameSide ? (last - first) / 2 + 1 : 1 }
    })
    .sort((a, b) => a.row - b.row || a.side.localeCompare(b.side)),
)
const leading = computed(() =>
  (props.feeders ?? [])
    .filter((p) => p.feeder_slots.length)
    .map((panel) => {
      const first = Math.min(...panel.feeder_slots)
      const last = Math.max(...panel.feeder_slots)
      const span = (last - first) % 2 === 0 ? (last - first) / 2 + 1 : 1
      return { panel, row: Math.ceil(first / 2), span, column: first % 2 ? 1 : 4 }
    }),
)
const taken = computed(
  () =>
    new Set([...props.drawn.flatMap((d) => d.circuit.slots), ...(props.feeders ?? []).flatMap((p) => p.feeder_slots)]),
)
const free = computed(() =>
  Array.from({ length: props.slots }, (_, i) => i + 1).filter((slot) => !taken.value.has(slot)),
)
const tabbable = computed(() =>
  cells.value.some((c) => c.circuit.id === props.selected) ? props.selected : cells.value[0]?.circuit.id,
)

function move(event: KeyboardEvent, from: Cell) {
  const steps: Record<string, [number, number]> = {
    ArrowUp: [-1, 0],
    ArrowDown: [1, 0],
    ArrowLeft: [0, -1],
    ArrowRight: [0, 1],
  }
  const step = steps[event.key]
  if (!step) return
  event.preventDefault()
  const [down, across] = step
  const side = across === 0 ? from.side : across < 0 ? 'left' : 'right'
  const column = cells.value.filter((c) => c.side === side)
  const to = across ? (side === from.side ? undefined : nearest(column, from.row)) : column[column.indexOf(from) + down]
  if (!to) return
  emit('select', to.circuit.id)
  void nextTick(() => root.value?.querySelector<HTMLElement>(`[data-circuit="${to.circuit.id}"]`)?.focus())
}

/** Arrows go from one free slot to the next in its column. */
function moveFree(event: KeyboardEvent, from: number) {
  const by = { ArrowUp: -2, ArrowDown: 2, ArrowLeft: -1, ArrowRight: 1 }[event.key]
  if (!by) return
  event.preventDefault()
  for (let slot = from + by; slot > 0 && slot <= props.slots; slot += by)
    if (free.value.includes(slot)) {
      root.value?.querySelector<HTMLElement>(`[data-slot="${slot}"]`)?.focus()
      return
    }
}

function nearest(column: Cell[], row: number): Cell | undefined {
  return [...column].sort((a, b) => Math.abs(a.row - row) - Math.abs(b.row - row))[0]
}

function startDrag(event: DragEvent, id: string) {
  event.dataTransfer?.setData('text/plain', id)
  if (event.dataTransfer) event.dataTransfer.effectAllowed = 'move'
  emit('drag', id)
}
</script>

<template>
  <div ref="root" class="panel" :style="{ '--rows': rows }" role="group" aria-label="The panel">
    <span
      v-for="slot in slots"
      :key="`n${slot}`"
      class="slot"
      :style="{ gridRow: Math.ceil(slot / 2), gridColumn: slot % 2 ? 2 : 3 }"
    >
      {{ slot }}
    </span>
    <template v-if="empty">
      <button
        v-for="slot in free"
        :key="`f${slot}`"
        class="free"
        :tabindex="slot === free[0] ? 0 : -1"
        :data-slot="slot"
        :style="{ gridRow: Math.ceil(slot / 2), gridColumn: slot % 2 ? 1 : 4 }"
        :aria-label="`Add a circuit in slot ${slot}`"
        @click="emit('add', slot)"
        @keydown="moveFree($event, slot)"
      >
        + slot {{ slot }}
      </button>
    </template>
    <button
      v-for="f in leading"
      :key="`p${f.panel.id}`"
      class="circuit feeder"
      :style="{ gridRow: `${f.row} / span ${f.span}`, gridColumn: f.column }"
      :title="`Feeder of ${f.panel.name}, slot ${f.panel.feeder_slots.join(' and ')}`"
      @click="emit('panel', f.panel.id)"
    >
      <span class="name">to {{ f.panel.name }}</span>
      <span class="w"><Fig :text="`${f.panel.feeder_a} A`" /></span>
    </button>
    <button
      v-for="c in cells"
      :key="c.circuit.id"
      class="circuit"
      :class="[c.stance, c.half, { selected: c.circuit.id === selected, untraced: !c.circuit.traced }]"
      :style="{ gridRow: `${c.row} / span ${c.span}`, gridColumn: c.side === 'left' ? 1 : 4 }"
      :data-circuit="c.circuit.id"
      :tabindex="c.circuit.id === tabbable ? 0 : -1"
      :aria-pressed="c.circuit.id === selected"
      :draggable="draggable"
      :title="`${c.circuit.name}, slot ${c.circuit.slots.join(' and ')}, ${c.circuit.breaker_a} A${c.watts ? `; ${watts(c.watts)} on average over a week` : ''}`"
      @click="emit('select', c.circuit.id)"
      @keydown="move($event, c)"
      @dragstart="startDrag($event, c.circuit.id)"
    >
      <span class="name">{{ c.circuit.name }}</span>
      <span v-if="c.stance && c.stance !== 'off'" class="sr">{{
        c.stance === 'turns' ? 'takes turns' : 'keeps on'
      }}</span>
      <span class="w"><Fig :text="c.watts ? watts(c.watts) : `${c.circuit.breaker_a} A`" /></span>
      <span class="sr">{{ c.watts ? 'on average' : 'breaker' }}</span>
    </button>
  </div>
  <p v-if="empty && !drawn.length" class="key small">
    The panel is empty. Choose a slot and enter its loads, or map the house breaker by breaker.
  </p>
  <p v-else class="key soft small">W: weekly average · A: breaker rating, if no load is known</p>
</template>

<style scoped>
.key {
  flex: none;
  margin: 4px 0 0;
  line-height: 1.3;
}
.first {
  width: calc(50% - 1px);
}
.second {
  width: calc(50% - 1px);
  justify-self: end;
}
.panel {
  display: grid;
  grid-template-rows: repeat(var(--rows), minmax(24px, 1fr));
  grid-template-columns: minmax(0, 1fr) 24px 24px minmax(0, 1fr);
  gap: 2px 0;
  min-height: 0;
  max-height: calc(var(--rows) * 31px + 14px);
  padding: 6px;
  border: 2px solid var(--line);
  border-radius: 10px;
  background: var(--well);
}
.slot {
  display: flex;
  align-items: center;
  justify-content: center;
  margin: -2px 0;
  background: var(--spine);
  color: var(--ink);
  font-size: 12px;
}
.circuit,
.free {
  display: flex;
  min-width: 0;
  align-items: flex-start;
  justify-content: space-between;
  gap: 6px;
  margin: 0 3px;
  padding: 2px 8px;
  border: 1px solid var(--line);
  border-radius: 5px;
  background: var(--sheet);
  text-align: left;
  font-size: 13px;
  line-height: 21px;
}
.circuit:hover {
  border-color: var(--ink);
}
.name {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.w {
  flex: none;
  color: var(--soft);
  font-size: 12.5px;
}
.feeder {
  border: 2px solid var(--line-strong);
}
.untraced {
  border: 1px dashed var(--line-strong);
}
.off .name {
  color: var(--soft);
}
.keep_on,
.turns {
  padding-left: 14px;
}
.keep_on {
  background: linear-gradient(90deg, var(--stored) 7px, var(--sheet) 7px);
}
.turns {
  background: linear-gradient(90deg, transparent 7px, var(--sheet) 7px), var(--hatch);
}
.selected {
  border-color: var(--deep);
  box-shadow: 0 0 0 2px var(--stored-ink);
}
.free {
  border-color: transparent;
  background: none;
  color: transparent;
}
.panel:not(:has(.circuit)) .free,
.free:hover,
.free:focus-visible {
  border: 1px dashed var(--line-strong);
  color: var(--soft);
}
@media (max-width: 760px) {
  .panel {
    max-height: none;
    grid-template-rows: repeat(var(--rows), minmax(44px, auto));
  }
  .circuit {
    flex-direction: column;
    gap: 0;
    line-height: 18px;
  }
  .name {
    white-space: normal;
  }
}
</style>

<script setup lang="ts">
import { computed } from 'vue'
import type { Feed, Home, TransferEquipment } from '@/shared/api/types'
import { hourOfDay, number, percent } from '@/shared/units/format'
import type { Figures } from '../../house/model'
import { span, type Spans } from '../model'

/** The switch drawn as it is, places in order; with cords, the station's outlets. */
const props = defineProps<{
  equipment: TransferEquipment
  count: number
  home: Home
  feeds: Feed[]
  /** Gear ahead of a panel: its places are that panel's breakers, and only those in the plan are drawn. */
  whole: boolean
  twoLegs: boolean
  selected: string | null
  figures: Figures
  spans: Spans
  placeLegs: string[]
  feedLegs: Record<string, string>
}>()
const emit = defineEmits<{ select: [string]; place: [string, number] }>()

const cords = computed(() => props.equipment.kind === 'cords')
interface Row {
  place: number
  feeds: Feed[]
  second: boolean
  beyond: boolean
}
const rows = computed<Row[]>(() => {
  const feeds = props.feeds
  const last = Math.max(props.whole ? 0 : props.count, ...feeds.flatMap((f) => span(props.spans, f)))
  return Array.from({ length: last }, (_, i) => i + 1)
    .map((place) => ({
      place,
      feeds: feeds.filter((f) => span(props.spans, f).includes(place)),
      second: feeds.some((f) => f.place + 1 === place && span(props.spans, f).length === 2),
      beyond: place > props.count,
    }))
    .filter((row) => !props.whole || row.feeds.length)
})
const idOf = (feed: Feed) => feed.circuit ?? feed.load ?? ''
const nameOf = (feed: Feed) =>
  (feed.circuit ? props.home.circuits[feed.circuit]?.name : props.home.loads[feed.load ?? '']?.name) ?? ''

function detail(feed: Feed): string {
  const parts: string[] = []
  const circuit = props.home.circuits[feed.circuit ?? '']
  if (circuit) parts.push(`slot ${circuit.slots.join(' and ')}`)
  const start = Math.max(
    0,
    ...Object.values(props.home.loads)
      .filter((l) => (feed.circuit ? l.circuit === feed.circuit : l.id === feed.load))
      .map((l) => props.figures[l.id]?.start_va ?? 0),
  )
  if (feed.stance === 'turns') parts.push(turnsText(feed))
  else if (start > 0) parts.push(`starts ${number(Math.ceil(start))} VA`)
  return parts.join(', ')
}
function turnsText(feed: Feed): string {
  if (feed.turn_by === 'surplus') return 'on spare solar power'
  if (feed.turn_by === 'charge') return `above ${percent(feed.above)}`
  const windows = feed.windows.map((w) => `${hourOfDay(w.start_h)} to ${hourOfDay(w.end_h)}`)
  return windows.length ? windows.join(', ') : `${percent(feed.share)} of the time`
}
const legOf = (row: Row) => props.placeLegs[row.place - 1] ?? props.feedLegs[row.feeds[0]?.id ?? ''] ?? ''
function drop(event: DragEvent, place: number) {
  const id = event.dataTransfer?.getData('text/plain')
  if (id) emit('place', id, place)
}
function drag(event: DragEvent, feed: Feed) {
  event.dataTransfer?.setData('text/plain', idOf(feed))
}
</script>

<template>
  <ol class="board" :aria-label="cords ? 'Outlets' : 'Places'">
    <li
      v-for="row in rows"
      :key="row.place"
      :class="{ beyond: row.beyond }"
      @dragover.prevent
      @drop.stop.prevent="drop($event, row.place)"
    >
      <span class="n">{{ row.place }}</span>
      <span v-if="!cords" class="lever" :class="row.feeds[0]?.stance ?? 'off'" aria-hidden="true"></span>
      <span class="what">
        <el-button
          v-for="feed in row.feeds"
          :key="feed.id"
          class="fed"
          :class="[feed.stance, { selected: idOf(feed) === selected }]"
          draggable="true"
          :aria-pressed="idOf(feed) === selected"
          @click="emit('select', idOf(feed))"
          @dragstart="drag($event, feed)"
        >
          <b>{{ nameOf(feed) }}</b>
          <small>{{ row.second ? 'second pole' : detail(feed) }}</small>
        </el-button>
        <el-button
          v-if="!row.feeds.length"
          class="empty"
          :disabled="!selected"
          @click="selected && emit('place', selected, row.place)"
        >
          {{ selected ? 'put it here' : 'free' }}
        </el-button>
      </span>
      <span v-if="twoLegs && !cords" class="leg" :title="`Leg ${legOf(row)}`">{{ legOf(row) }}</span>
    </li>
  </ol>
  <p v-if="!rows.length" class="soft">
    {{ cords ? 'Outlets show once a station is picked.' : 'This equipment has no places.' }}
  </p>
  <p class="soft small">{{ equipment.note }}</p>
</template>

<style scoped>
.board {
  display: grid;
  gap: 5px;
  margin: 0;
  padding: 9px;
  border: 2px solid var(--line);
  border-radius: 10px;
  background: var(--well);
  list-style: none;
}
li {
  display: flex;
  align-items: center;
  gap: 8px;
  min-height: 42px;
  padding: 0 10px 0 0;
  border: 1px solid var(--line);
  border-radius: 6px;
  background: var(--sheet);
  overflow: hidden;
}
.beyond {
  border: 2px dashed var(--dark);
}
.n {
  width: 30px;
  font: 650 16px var(--head);
  text-align: right;
}
.lever {
  position: relative;
  width: 9px;
  height: 25px;
  border-radius: 5px;
  background: var(--spine);
}
.lever::after {
  content: '';
  position: absolute;
  left: -2px;
  bottom: -1px;
  width: 13px;
  height: 13px;
  border-radius: 50%;
  background: var(--ink);
}
.lever.keep_on::after {
  bottom: auto;
  top: -1px;
}
.lever.turns::after {
  bottom: 6px;
  background: var(--hatch);
  border: 1px solid var(--ink);
}
.lever.off::after {
  background: var(--line-strong);
}
.what {
  display: grid;
  flex: 1;
  min-width: 0;
}
.fed {
  display: grid;
  padding: 3px 6px 3px 14px;
  border: 0;
  border-radius: 4px;
  background: none;
  text-align: left;
  cursor: grab;
}
.fed b {
  font-weight: 500;
  line-height: 1.2;
}
.fed small {
  color: var(--soft);
  line-height: 1.2;
}
.fed.keep_on {
  background: linear-gradient(90deg, var(--stored) 6px, transparent 6px);
}
.fed.turns {
  background: linear-gradient(90deg, transparent 6px, var(--sheet) 6px), var(--hatch);
}
.fed.selected b {
  text-decoration: underline;
  text-decoration-thickness: 3px;
  text-underline-offset: 3px;
  text-decoration-color: var(--stored-ink);
}
.empty {
  padding: 3px 12px;
  border: 0;
  background: none;
  color: var(--soft);
  text-align: left;
}
.empty:disabled {
  cursor: default;
}
.leg {
  font-weight: 700;
}
</style>

<script setup lang="ts">
import { computed } from 'vue'
import type { DiagramLine, Drawing } from '@/shared/api/types'

/** The joining diagram: what is live in the chosen state is drawn thick, the rest thin. */
const props = defineProps<{ layout: Drawing; state: 'grid' | 'outage' }>()
const live = (line: DiagramLine) => line.live.includes(props.state)
const lines = computed(() => [...props.layout.lines].sort((a, b) => Number(live(a.line)) - Number(live(b.line))))
function style(line: DiagramLine): string {
  if (line.data) return 'data'
  return live(line) ? `live ${props.state}` : 'idle'
}
/** One of the rows of what is fed. */
const row = (lane: string) => lane === 'right' || lane === 'fed'
/** A source that gives nothing in this state stands faint. */
const quiet = (id: string) =>
  (props.state === 'outage' && ['grid', 'charger'].includes(id)) || (props.state === 'grid' && id === 'inlet')
</script>

<template>
  <svg :viewBox="`0 0 ${layout.width} ${layout.height}`" role="img" aria-label="How everything is connected">
    <g v-for="(d, i) in lines" :key="i">
      <path :d="d.path" :class="style(d.line)" fill="none" />
    </g>
    <g v-for="p in layout.boxes" :key="p.box.id" :class="[p.box.kind, { quiet: quiet(p.box.id) }]">
      <rect :x="p.x" :y="p.y" :width="p.w" :height="p.h" rx="7" />
      <text :x="p.x + 10" :y="p.y + (row(p.box.lane) ? 15 : 19)" class="title">{{ p.box.title }}</text>
      <text
        v-for="(t, k) in p.box.lines"
        :key="k"
        :x="p.x + 10"
        :y="p.y + (row(p.box.lane) ? 28 : 35) + 15 * k"
        class="line"
      >
        {{ t }}
      </text>
    </g>
    <template v-for="(d, i) in lines" :key="`t${i}`">
      <text v-if="d.label && d.line.label" :x="d.label.x" :y="d.label.y" :text-anchor="d.label.anchor" class="label">
        {{ d.line.label }}
      </text>
    </template>
  </svg>
</template>

<style scoped>
svg {
  display: block;
  width: 100%;
  max-height: 100%;
}
rect {
  fill: var(--sheet);
  stroke: var(--ink);
  stroke-width: 1.3;
}
.device rect {
  stroke-width: 2.4;
}
.appliance rect,
.circuit rect {
  stroke: var(--line-strong);
}
.quiet {
  opacity: 0.5;
}
.quiet rect {
  stroke-dasharray: 5 4;
}
.title {
  font: 650 13px var(--text);
  fill: var(--ink);
}
.line {
  font: 12px var(--text);
  fill: var(--soft);
}
.label {
  font: 12px var(--text);
  fill: var(--ink);
  paint-order: stroke;
  stroke: var(--paper);
  stroke-width: 4px;
}
.idle {
  stroke: var(--line-strong);
  stroke-width: 1;
  stroke-dasharray: 2 4;
}
.live {
  stroke-width: 3.4;
}
.live.grid {
  stroke: var(--grid);
  stroke-dasharray: 14 4;
}
.live.outage {
  stroke: var(--stored);
}
.data {
  stroke: var(--ink);
  stroke-width: 1.2;
  stroke-dasharray: 1 5;
  stroke-linecap: round;
}
</style>

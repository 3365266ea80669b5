<script setup lang="ts">
import { computed } from 'vue'
import type { ChannelView, PartView } from '@/shared/api/types'
import { axisText, watts } from '@/shared/units/format'

/** A log drawn over its time: its W, and under it a row for each thing found in it, each run marked. */
const props = defineProps<{ channel: ChannelView; zone: string }>()
const W = 640
const H = 92
const NAMES: Record<PartView['kind'], string> = {
  main: 'runs',
  bump: 'higher at times (a defrost?)',
  spike: 'short spikes (a pump?)',
  rider: 'something else connected',
}
const top = computed(() => Math.max(...props.channel.sketch_w.map(([, high]) => high), 1))
const y = (w: number) => H - 3 - ((H - 8) * w) / top.value
const path = computed(() => {
  const n = Math.max(1, props.channel.sketch_w.length - 1)
  return props.channel.sketch_w
    .map(([low, high], i) => `M${((W * i) / n).toFixed(1)} ${y(low).toFixed(1)}V${(y(high) - 0.6).toFixed(1)}`)
    .join('')
})
const rows = computed(() =>
  props.channel.parts.slice(0, 4).map((part) => ({
    part,
    text: `${NAMES[part.kind]}: ${watts(part.w)}`,
    path: part.spans.map(([a, b]) => `M${(W * a).toFixed(1)} 5H${Math.max(W * b, W * a + 1.2).toFixed(1)}`).join(''),
  })),
)
const ticks = computed(() => {
  const { start, hours } = props.channel
  if (!start || !hours) return []
  const short = hours < 48
  const step = short ? Math.ceil(hours / 6) : 24 * Math.ceil(hours / 24 / 6)
  return Array.from({ length: Math.floor(hours / step) + 1 }, (_, i) => ({
    x: (W * i * step) / hours,
    text: axisText(new Date(new Date(start).getTime() + i * step * 3_600_000), props.zone, short),
  })).filter((t) => t.x < W - 20)
})
</script>

<template>
  <figure>
    <svg :viewBox="`0 0 ${W} ${H + 16}`" role="img" :aria-label="`${channel.name}, W over time`">
      <line :y1="y(channel.rest_w)" :y2="y(channel.rest_w)" x1="0" :x2="W" class="rest" />
      <path :d="path" class="log" />
      <line
        v-if="channel.shape === 'cycling' || channel.shape === 'events'"
        :y1="y(channel.run_w)"
        :y2="y(channel.run_w)"
        x1="0"
        :x2="W"
        class="run"
      />
      <g v-for="t in ticks" :key="t.x" class="tick">
        <line :x1="t.x" :x2="t.x" y1="0" :y2="H" />
        <text :x="t.x + 3" :y="H + 13">{{ t.text }}</text>
      </g>
      <text x="3" y="11" class="top" data-figure>{{ watts(top) }}</text>
    </svg>
    <div v-for="r in rows" :key="r.text" class="found">
      <svg :viewBox="`0 0 ${W} 10`" preserveAspectRatio="none" aria-hidden="true">
        <path :d="r.path" :class="r.part.kind" />
      </svg>
      <span class="small" data-figure>{{ r.text }}</span>
    </div>
  </figure>
</template>

<style scoped>
figure {
  margin: 0;
}
svg {
  display: block;
  width: 100%;
  overflow: visible;
}
.log {
  fill: none;
  stroke: var(--stored);
  stroke-width: 1.1;
}
.rest,
.run {
  stroke: var(--line-strong);
  stroke-width: 0.8;
  stroke-dasharray: 5 4;
}
.tick line {
  stroke: var(--line);
}
text {
  font: 12px var(--text);
  fill: var(--soft);
}
.found {
  display: grid;
  grid-template-columns: 1fr;
  margin-top: 2px;
  border-top: 1px solid var(--line);
}
.found svg {
  height: 10px;
}
.found path {
  fill: none;
  stroke: var(--ink);
  stroke-width: 7;
  vector-effect: non-scaling-stroke;
}
.found .main {
  stroke: var(--stored);
}
.found .bump {
  stroke: var(--turns);
}
.found .rider {
  stroke: var(--grid);
}
.found span {
  color: var(--soft);
}
</style>

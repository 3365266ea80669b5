<script setup lang="ts">
import { computed } from 'vue'
import type { Home, Op, SunView } from '@/shared/api/types'
import { kwh, number } from '@/shared/units/format'
import Fig from '@/shared/ui/Fig.vue'
import { MONTHS } from '../model'
import MeasureInput from '@/shared/ui/fields/MeasureInput.vue'
import { measured } from '@/shared/units/measures'

/** What all arrays bring on the mean day of each month, from overcast to clear, beside what a day needs. */
const props = defineProps<{ view: SunView; home: Home }>()
const emit = defineEmits<{ change: [Op[], string] }>()

const W = 660
const H = 150
const LEFT = 46
const BASE = H - 18
const top = computed(() => Math.max(props.view.need_wh, ...props.view.months.map((m) => m.clear_wh), 1) * 1.08)
const y = (wh: number) => BASE - (BASE - 8) * (wh / top.value)
const step = (W - LEFT) / 12
const x = (month: number) => LEFT + (month - 1) * step
const marks = computed(() => {
  const size = [500, 1000, 2000, 5000, 10000, 20000, 50000].find((s) => top.value / s <= 4) ?? 100000
  return Array.from({ length: Math.floor(top.value / size) }, (_, i) => (i + 1) * size)
})
const worst = computed(() => props.view.months.find((m) => m.month === props.view.worst_month))
const lacking = computed(() => {
  const n = props.view.panels_lacking
  if (n === 0) return 'Even then it covers an average day, so you need no extra storage.'
  if (n === null) return 'No number of panels like these would cover an average day then. You need another source.'
  const there = props.view.arrays.reduce(
    (sum, a) => sum + a.ways[0]!.series * a.ways[0]!.parallel + a.ways[0]!.left_over,
    0,
  )
  if (n > 2 * there)
    return `It would take ${number(n)} more like these to cover an average day then. Fewer loads or another source are cheaper.`
  return `${number(n)} more like these would cover an average day then. More storage only postpones the end.`
})
const refill = computed(() => {
  const d = props.view.days_to_full
  return d === null
    ? 'In this outage the loads use more per day than the sun supplies, so solar power postpones the end but doesn’t recharge the station.'
    : `In this outage it recharges from the stop level in ${number(Math.ceil(d * 10) / 10, 1)} days.`
})
function record(value: number | null, key: 'record_low_c' | 'record_high_c', what: string) {
  const said = value === null ? 'by climate' : measured('temperature', value)
  emit('change', [{ doc: 'home', op: 'replace', path: `/site/${key}`, value }], `${what} ${said}`)
}
</script>

<template>
  <section>
    <h2>Through the year</h2>
    <svg
      v-if="view.months.length"
      :viewBox="`0 0 ${W} ${H}`"
      role="img"
      :aria-label="`Mean day of each month: ${view.months.map((m) => `${MONTHS[m.month - 1]} ${kwh(m.mean_wh)}`).join(', ')}. A day needs ${kwh(view.need_wh)}.`"
    >
      <g v-for="m in marks" :key="m">
        <line :x1="LEFT" :x2="W" :y1="y(m)" :y2="y(m)" class="grid" />
        <text :x="LEFT - 6" :y="y(m) + 4" text-anchor="end">{{ kwh(m) }}</text>
      </g>
      <g v-for="m in view.months" :key="m.month">
        <rect
          :x="x(m.month) + step * 0.18"
          :width="step * 0.64"
          :y="y(m.mean_wh)"
          :height="BASE - y(m.mean_wh)"
          class="mean"
          :class="{ worst: m.month === view.worst_month }"
        />
        <line
          :x1="x(m.month) + step / 2"
          :x2="x(m.month) + step / 2"
          :y1="y(m.clear_wh)"
          :y2="y(m.overcast_wh)"
          class="span"
        />
        <line
          v-for="wh in [m.clear_wh, m.overcast_wh]"
          :key="wh"
          :x1="x(m.month) + step * 0.36"
          :x2="x(m.month) + step * 0.64"
          :y1="y(wh)"
          :y2="y(wh)"
          class="span"
        />
        <text :x="x(m.month) + step / 2" :y="H - 4" text-anchor="middle">{{ MONTHS[m.month - 1] }}</text>
      </g>
      <line :x1="LEFT" :x2="W" :y1="y(view.need_wh)" :y2="y(view.need_wh)" class="need" />
      <text :x="W - 2" :y="y(view.need_wh) - 4" text-anchor="end" class="told">
        need per day: {{ kwh(view.need_wh) }}
      </text>
    </svg>
    <p class="soft small">
      Bars: an average day of each month in this climate. Fine lines: from an overcast day to a clear one.
    </p>
    <p v-if="worst">
      Least in {{ MONTHS[worst.month - 1] }}: <b><Fig :text="kwh(worst.mean_wh)" /></b> per day, of the
      <Fig :text="kwh(view.need_wh)" /> needed. {{ lacking }} {{ refill }}
    </p>
    <p class="records soft small">
      Imbuto checks strings against the record low and high here:
      <MeasureInput
        kind="temperature"
        label="Record low"
        :value="view.low_c"
        :least="-60"
        :most="60"
        empty
        @keep="(v) => record(v, 'record_low_c', 'Record low')"
      />
      and
      <MeasureInput
        kind="temperature"
        label="Record high"
        :value="view.high_c"
        :least="-60"
        :most="60"
        empty
        @keep="(v) => record(v, 'record_high_c', 'Record high')"
      />{{ view.looked_up ? '' : ', a guess by climate: look yours up' }}.
    </p>
  </section>
</template>

<style scoped>
svg {
  display: block;
  width: 100%;
  max-width: 760px;
}
text {
  fill: var(--soft);
  font: 12px var(--text);
}
.grid {
  stroke: var(--line);
}
.mean {
  fill: var(--sun);
  stroke: var(--ink);
  stroke-width: 0.6;
}
.worst {
  stroke-width: 2;
}
.span {
  stroke: var(--ink);
  stroke-width: 1;
}
.need {
  stroke: var(--stored-ink);
  stroke-width: 2;
  stroke-dasharray: 7 4;
}
.told {
  fill: var(--stored-ink);
  font-weight: 650;
}
p {
  margin: 4px 0;
}
.records .el-input {
  width: 54px;
}
</style>

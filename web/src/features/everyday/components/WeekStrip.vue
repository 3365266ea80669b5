<script setup lang="ts">
import { computed } from 'vue'
import type { Tariff } from '@/shared/api/types'

/** A week of a tariff as a strip: what a kWh costs, dearer is taller and darker; told in words beside it. */
const props = defineProps<{ tariff: Tariff; month: number }>()
const rates = computed(() =>
  Object.values(props.tariff.rates).filter((r) => !r.months?.length || r.months.includes(props.month)),
)
const most = computed(() => Math.max(...rates.value.map((r) => r.price), 0.001))
function priceAt(weekend: boolean, hour: number) {
  const within = (w: { start_h: number; end_h: number; days?: string }) =>
    (w.days === undefined || w.days === 'all' || (w.days === 'weekend') === weekend) &&
    (w.end_h > w.start_h ? hour >= w.start_h && hour < w.end_h : hour >= w.start_h || hour < w.end_h)
  return rates.value.find((r) => r.windows?.some(within)) ?? rates.value.find((r) => !r.windows?.length)
}
const rows = computed(() =>
  [false, true].map((weekend) => ({
    name: weekend ? 'weekends' : 'weekdays',
    cells: Array.from({ length: 48 }, (_, i) => priceAt(weekend, i / 2)),
  })),
)
const said = computed(() => rates.value.map((r) => `${r.name} ${r.price}`).join(', '))
</script>

<template>
  <figure role="img" :aria-label="`A week: ${said}`">
    <div v-for="row in rows" :key="row.name" class="row">
      <span>{{ row.name }}</span>
      <div class="cells">
        <i
          v-for="(r, i) in row.cells"
          :key="i"
          :class="{ none: !r }"
          :style="{
            height: `${r ? 15 + 85 * Math.max(r.price / most, 0) : 100}%`,
            opacity: r ? 0.35 + 0.65 * Math.max(r.price / most, 0) : 1,
          }"
          :title="r ? `${i / 2}:00: ${r.name}, ${r.price}` : 'no price'"
        ></i>
      </div>
    </div>
  </figure>
</template>

<style scoped>
figure {
  margin: 6px 0;
}
.row {
  display: grid;
  grid-template-columns: 74px 1fr;
  align-items: end;
  margin-bottom: 4px;
  font-size: 12.5px;
}
.cells {
  display: flex;
  align-items: end;
  height: 30px;
  border-bottom: 1px solid var(--line-strong);
}
i {
  flex: 1;
  background: var(--stored);
}
.none {
  background: repeating-linear-gradient(45deg, var(--line-strong) 0 2px, transparent 2px 5px);
}
</style>

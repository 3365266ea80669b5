<script setup lang="ts">
import { computed } from 'vue'
import type { Run } from '@/shared/api/types'
import { kwh } from '@/shared/units/format'
import Fig from '@/shared/ui/Fig.vue'

/** From what came in, step by step, to what reached the circuits: every bar is as long as its kWh, on one scale. */
const props = defineProps<{ drops: Run['waterfall'] }>()
const CAME = ['stored', 'sun', 'engine']
const all = computed(() => props.drops.reduce((sum, d) => sum + (CAME.includes(d.kind) ? d.wh : 0), 0) || 1)
/** Each bar from where the one before it ended: what comes in adds up, what is lost falls back. */
const bars = computed(() => {
  let level = 0
  return props.drops.map((d) => {
    const width = Math.abs(d.wh) / all.value
    const came = CAME.includes(d.kind)
    const from = d.kind === 'reaches' ? 0 : came ? level : level - width
    level = came ? level + width : d.kind === 'reaches' ? level : level - width
    return { ...d, from: Math.max(from, 0), width }
  })
})
const text = (wh: number) => (wh < 0 ? `−${kwh(-wh)}` : kwh(wh))
</script>

<template>
  <ol class="fall" aria-label="From stored energy to energy used">
    <li v-for="d in bars" :key="d.name" :class="d.kind">
      <span class="name">{{ d.name }}</span>
      <span class="track" aria-hidden="true"
        ><i :style="{ left: `${100 * d.from}%`, width: `${100 * d.width}%` }"></i
      ></span>
      <b><Fig :text="text(d.wh)" /></b>
    </li>
  </ol>
</template>

<style scoped>
.fall {
  display: grid;
  gap: 2px;
  margin: 0;
  padding: 8px 11px;
  border: 1px solid var(--line-strong);
  border-radius: 10px;
  background: var(--sheet);
  list-style: none;
}
li {
  display: grid;
  grid-template-columns: minmax(120px, 236px) minmax(60px, 1fr) 78px;
  gap: 10px;
  align-items: center;
  font-size: 12.5px;
  line-height: 1.25;
}
li b {
  font: 650 13px var(--head);
  text-align: right;
}
.track {
  position: relative;
  height: 13px;
}
.track i {
  position: absolute;
  inset: 0 auto;
  min-width: 1px;
  border: 1px solid var(--line-strong);
  background: var(--spine);
}
.stored i {
  background: var(--wash);
}
.sun i {
  background: color-mix(in srgb, var(--sun) 45%, transparent);
}
.engine i {
  background: repeating-linear-gradient(90deg, var(--engine) 0 4px, transparent 4px 7px);
}
.loss i {
  border-style: dashed;
  background: transparent;
}
.held i {
  background-image: repeating-linear-gradient(
    135deg,
    color-mix(in srgb, var(--dark) 45%, transparent) 0 1px,
    transparent 1px 6px
  );
}
.reaches {
  padding-top: 2px;
  border-top: 1px solid var(--line-strong);
  font-weight: 650;
}
.reaches i {
  border-color: var(--stored);
  background: var(--stored);
}
</style>

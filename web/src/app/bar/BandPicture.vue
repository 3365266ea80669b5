<script setup lang="ts">
import { computed } from 'vue'
import type { Verdict } from '@/shared/api/types'

/** The hours with their band and the goal on one line. */
const props = defineProps<{ verdict: Verdict }>()

const scale = computed(() => {
  const v = props.verdict
  return Math.max(v.goal_hours, v.high_hours ?? 0, v.hours ?? 0) * 1.12 || 1
})
const at = (hours: number | null) => (hours === null ? 100 : Math.min(100, (100 * hours) / scale.value))
</script>

<template>
  <div class="band" title="Based on 400 runs in which uncertain loads, habits, weather and battery figures vary.">
    <div class="track" aria-hidden="true">
      <i class="spread" :style="{ left: `${at(verdict.low_hours)}%`, right: `${100 - at(verdict.high_hours)}%` }"></i>
      <i class="mid" :style="{ left: `${at(verdict.hours)}%` }"></i>
      <i class="goal" :style="{ left: `${at(verdict.goal_hours)}%` }"></i>
    </div>
    <span data-quantity="chance">{{ verdict.headline.goal }}</span>
  </div>
</template>

<style scoped>
.band {
  flex: none;
  width: 182px;
  font-size: 12.5px;
  color: var(--on-deep-soft);
}
.track {
  position: relative;
  height: 8px;
  margin: 5px 0;
  border-radius: 4px;
  background: var(--deep-band);
}
i {
  position: absolute;
  top: 0;
  bottom: 0;
}
.spread {
  min-width: 4px;
  border-radius: 4px;
  background: #5ea9a6;
}
.mid {
  width: 3px;
  margin-left: -1px;
  top: -3px;
  bottom: -3px;
  background: #fff;
}
.goal {
  top: -5px;
  bottom: -5px;
  border-left: 3px dotted var(--gain);
}
</style>

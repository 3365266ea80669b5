<script setup lang="ts">
import { computed } from 'vue'
import type { Verdict } from '@/shared/api/types'
import { chance, hoursText } from '@/shared/units/format'
import Fig from '@/shared/ui/Fig.vue'

/** The hours with their band and the goal on one line. */
const props = defineProps<{ verdict: Verdict }>()

const scale = computed(() => {
  const v = props.verdict
  return Math.max(v.goal_hours, v.high_hours ?? 0, v.hours ?? 0) * 1.12 || 1
})
const at = (hours: number | null) => (hours === null ? 100 : Math.min(100, (100 * hours) / scale.value))
const low = computed(() => {
  const v = props.verdict
  return v.low_hours === null ? 'still on at the end' : `at least ${hoursText(v.low_hours)}`
})
</script>

<template>
  <div
    class="band"
    title="From 400 runs in which loads, habits, the sky and the battery vary as far as they are not known."
  >
    <span
      >9 in 10: <Fig v-if="verdict.low_hours !== null" :text="low" /><template v-else>{{ low }}</template></span
    >
    <div class="track" aria-hidden="true">
      <i class="spread" :style="{ left: `${at(verdict.low_hours)}%`, right: `${100 - at(verdict.high_hours)}%` }"></i>
      <i class="mid" :style="{ left: `${at(verdict.hours)}%` }"></i>
      <i class="goal" :style="{ left: `${at(verdict.goal_hours)}%` }"></i>
    </div>
    <span>
      goal <Fig :text="hoursText(verdict.goal_hours)" /><template v-if="verdict.unfed.length"> · not met</template
      ><template v-else-if="verdict.chance !== null"> · reached <Fig :text="chance(verdict.chance)" /></template>
    </span>
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

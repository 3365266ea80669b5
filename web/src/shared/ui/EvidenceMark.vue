<script setup lang="ts">
import type { Evidence } from '@/shared/api/types'

/** How a load's figure is known, as a line: guess dotted, label thin, metered thick, logged double. */
defineProps<{ evidence: Evidence; bare?: boolean }>()
</script>

<template>
  <span class="mark">
    <span class="line" :class="evidence" aria-hidden="true"></span>
    <span :class="{ sr: bare }">{{ evidence }}</span>
  </span>
</template>

<style scoped>
.mark {
  display: inline-flex;
  align-items: center;
  gap: 5px;
  font-size: 12.5px;
  color: var(--soft);
}
.line {
  width: 16px;
  border-top: 2px dotted var(--ink);
}
.line.label {
  border-top: 1px solid var(--ink);
}
.line.metered {
  border-top: 3px solid var(--ink);
}
.line.logged {
  border-top: 4px double var(--ink);
}
</style>

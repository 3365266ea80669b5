<script setup lang="ts">
import { computed } from 'vue'
import type { BookView } from '@/shared/api/types'
import { hoursText } from '@/shared/units/format'

/** Promise and outcome of every outage on one axis of hours: told apart by shape and by words, not by colour alone. */
const props = defineProps<{ outcomes: BookView['outcomes'] }>()
const most = computed(() =>
  Math.max(...props.outcomes.flatMap((o) => [o.promised_h ?? 0, o.lasted_h, o.dark_h ?? 0, o.low_h ?? 0]), 1),
)
const x = (hours: number) => `${(100 * Math.min(hours, most.value)) / most.value}%`
const said = (o: BookView['outcomes'][number]) => {
  const promised = !o.promised
    ? 'no estimate'
    : o.promised_h == null
      ? 'no end expected'
      : `promised ${hoursText(o.promised_h)}`
  const low = o.low_h == null ? '' : `, 9 in 10 at least ${hoursText(o.low_h)}`
  const came =
    o.dark_h == null
      ? `the grid was back after ${hoursText(o.lasted_h)}, never without power`
      : `ran out after ${hoursText(o.dark_h)}`
  return `${promised}${low}; ${came}`
}
</script>

<template>
  <ul class="bars">
    <li v-for="o in outcomes" :key="`${o.lived}${o.source}`">
      <p>
        <b>{{ o.began.slice(0, 10) }}, {{ o.name }}</b> <small class="soft">{{ o.plan }}</small>
      </p>
      <div class="axis" role="img" :aria-label="said(o)">
        <i v-if="o.promised_h != null" class="promised" :style="{ width: x(o.promised_h) }"></i>
        <i v-if="o.low_h != null" class="low" :style="{ left: x(o.low_h) }"></i>
        <i class="lasted" :class="{ dark: o.dark_h != null }" :style="{ width: x(o.dark_h ?? o.lasted_h) }"></i>
      </div>
      <p>{{ said(o) }}.</p>
      <p class="soft">{{ o.says }} {{ o.lost }}</p>
    </li>
  </ul>
</template>

<style scoped>
.bars {
  margin: 6px 0;
  padding: 0;
  list-style: none;
}
.bars li {
  margin-bottom: 14px;
}
p {
  margin: 2px 0;
}
.axis {
  position: relative;
  height: 26px;
  border-bottom: 1px solid var(--line-strong);
}
.axis i {
  position: absolute;
  left: 0;
}
.promised {
  top: 2px;
  height: 9px;
  border: 2px solid var(--ink);
}
.low {
  top: 0;
  width: 0;
  height: 13px;
  border-left: 3px solid var(--ink);
}
.lasted {
  top: 14px;
  height: 9px;
  background: var(--stored);
}
.lasted.dark {
  border-right: 6px solid var(--dark);
}
</style>

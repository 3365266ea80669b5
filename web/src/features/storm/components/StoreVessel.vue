<script setup lang="ts">
import { computed, useId } from 'vue'
import type { StoreLive } from '@/shared/api/types'
import { clock } from '@/shared/units/format'

/** A store as a vessel: its level is its charge, its floor hatched, and what leads is the clock at which it is dark. */
const props = defineProps<{ store: StoreLive; lead: boolean }>()
const TOP = 12
const TALL = 176
const y = (charge: number) => TOP + TALL * (1 - Math.min(Math.max(charge, 0), 1))
const level = computed(() => y(props.store.charge))
const floor = computed(() => y(props.store.floor))
const hatch = useId()
const words = computed(() => {
  const { output, off_by, early_at } = props.store
  if (output === 'off') return off_by ? `off since ${clock(off_by)}` : 'off'
  if (output === 'ask') return 'Is it on?'
  return early_at ? `count on it until ${clock(early_at)}` : 'no end expected'
})
/** The clock time leads; what it is the time of stands above it, small. */
const until = computed(() => (props.store.output === 'on' && props.store.early_at ? clock(props.store.early_at) : ''))
const percent = computed(() => `${Math.round(100 * props.store.charge)}%`)
/** The flare is decoration; height alone says how much. */
const shape = `M20 ${TOP}H180L164 ${TOP + TALL}H36Z`
</script>

<template>
  <figure :class="{ lead }">
    <svg viewBox="0 0 200 200" role="img" :aria-label="`${store.name}: ${words}, ${percent}`">
      <defs>
        <clipPath :id="`${hatch}c`"><path :d="shape" /></clipPath>
        <pattern :id="hatch" width="7" height="7" patternTransform="rotate(45)" patternUnits="userSpaceOnUse">
          <rect width="7" height="7" class="under" />
          <rect width="2.4" height="7" class="bar" />
        </pattern>
      </defs>
      <g :clip-path="`url(#${hatch}c)`">
        <rect x="0" :y="level" width="200" :height="200 - level" class="stored" />
        <rect x="0" :y="floor" width="200" :height="200 - floor" :fill="`url(#${hatch})`" />
      </g>
      <path :d="shape" class="rim" />
      <text x="100" :y="Math.max(level - 6, TOP + 14)" class="percent">{{ percent }}</text>
    </svg>
    <figcaption>
      <span>{{ store.name }}<template v-if="until">: count on it until</template></span>
      <strong :class="{ clock: until }">{{ until || words }}</strong>
    </figcaption>
  </figure>
</template>

<style scoped>
figure {
  display: flex;
  gap: 14px;
  align-items: center;
  margin: 0;
}
svg {
  flex: none;
  width: 104px;
}
.lead svg {
  width: 150px;
}
.stored {
  fill: var(--stored);
}
.under {
  fill: var(--well);
}
.bar {
  fill: var(--line-strong);
}
.rim {
  fill: none;
  stroke: var(--ink);
  stroke-width: 3;
}
.percent {
  font: 650 20px var(--head);
  fill: var(--ink);
  text-anchor: middle;
  paint-order: stroke;
  stroke: var(--paper);
  stroke-width: 5px;
}
figcaption {
  display: grid;
  color: var(--ink);
}
strong {
  font: 650 22px var(--head);
}
.lead strong {
  font-size: 34px;
  line-height: 1.1;
}
@media (max-width: 760px) {
  .lead svg {
    width: 112px;
  }
  .lead strong {
    font-size: 25px;
  }
  .lead .clock {
    font-size: 29px;
    white-space: nowrap;
  }
}
</style>

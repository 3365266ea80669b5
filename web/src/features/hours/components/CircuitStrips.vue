<script setup lang="ts">
import { computed } from 'vue'
import type { Run, Strip } from '@/shared/api/types'
import { watts } from '@/shared/units/format'
import Fig from '@/shared/ui/Fig.vue'
import { LEFT, RIGHT, share } from '../axis'

/** When each circuit is served, on the same axis as the curve. Height tells watts within its own strip. */
const props = defineProps<{ run: Run }>()

const dark = computed(() =>
  props.run.dark_h !== null && props.run.dark_h < props.run.shown_h && !props.run.back_h.length
    ? props.run.dark_h
    : null,
)
function bar(strip: Strip, piece: Strip['pieces'][number]) {
  const top = Math.max(...strip.pieces.map((p) => p.w))
  const height = 5 + 11 * Math.sqrt(piece.w / top)
  return {
    left: share(piece.from_h, props.run.shown_h),
    width: `max(2px, ${share(piece.to_h - piece.from_h, props.run.shown_h)})`,
    height: `${height}px`,
  }
}
</script>

<template>
  <section
    class="strips"
    :style="{ '--left': `${LEFT}px`, '--right': `${RIGHT}px` }"
    aria-label="When each circuit has power"
  >
    <div v-for="strip in run.strips" :key="strip.feed" class="strip">
      <span class="who"
        ><span>{{ strip.name }}</span>
        <Fig class="soft" title="on average while it draws" :text="watts(strip.average_w)"
      /></span>
      <span class="lane">
        <i
          v-for="piece in strip.pieces"
          :key="piece.from_h"
          :class="[strip.stance, { cycles: strip.cycles && strip.stance === 'keep_on' }]"
          :style="bar(strip, piece)"
        ></i>
      </span>
    </div>
    <div v-if="run.engine.length" class="strip">
      <span class="who"><span>Generator</span></span>
      <span class="lane">
        <i
          v-for="e in run.engine"
          :key="e.from_h"
          class="engine"
          :style="{
            left: share(e.from_h, run.shown_h),
            width: `max(2px, ${share(e.to_h - e.from_h, run.shown_h)})`,
            height: '13px',
          }"
        ></i>
      </span>
    </div>
    <div v-if="dark !== null" class="dark" aria-hidden="true">
      <div :style="{ left: share(dark, run.shown_h) }"><span>off until someone recharges it</span></div>
    </div>
  </section>
</template>

<style scoped>
.strips {
  position: relative;
  padding: 6px 0;
  border: 1px solid var(--line);
  border-radius: 10px;
  background: var(--sheet);
}
.strip {
  display: flex;
  height: 21px;
  padding-right: var(--right);
}
.who {
  display: flex;
  gap: 6px;
  flex: 0 0 var(--left);
  padding: 0 10px 0 14px;
  font-size: 12.5px;
}
.who span:first-child {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.lane {
  position: relative;
  flex: 1;
  border-bottom: 1px solid var(--line);
}
.lane i {
  position: absolute;
  bottom: 2px;
  border-radius: 2px 2px 0 0;
}
.keep_on {
  background: var(--stored);
}
.keep_on.cycles {
  background: repeating-linear-gradient(90deg, var(--stored) 0 6px, transparent 6px 10px);
}
.engine {
  background: repeating-linear-gradient(90deg, var(--engine) 0 3px, var(--sheet) 3px 4px);
}
.turns {
  background: var(--hatch);
  outline: 1px solid var(--turns);
  outline-offset: -1px;
}
.dark {
  position: absolute;
  inset: 0 var(--right) 0 var(--left);
  pointer-events: none;
}
.dark div {
  position: absolute;
  inset: 0 0 0 auto;
  display: flex;
  align-items: center;
  justify-content: center;
  border-left: 2px solid var(--dark);
  color: var(--dark);
  font-size: 13px;
}
.dark span {
  padding: 2px 8px;
  background: var(--sheet);
}
@media (max-width: 760px) {
  .strip {
    flex-direction: column;
    height: auto;
    padding: 0 22px 4px 48px;
  }
  .who {
    flex: none;
    padding: 0;
  }
  .lane {
    flex: 0 0 18px;
  }
  .dark {
    display: none;
  }
}
</style>

<script setup lang="ts">
import { ref } from 'vue'
import type { DrillPart } from '@/shared/api/types'

/**
 * A lever, breaker or plug as it is moved: click a position, drag the knob to it, or step with the arrow keys. What a
 * source feeds is drawn with upright bars, so that live and dead are told without colour.
 */
const props = defineProps<{
  part: DrillPart
  /** Its name without what stands above it. */
  name: string
  /** A position in words. */
  word: (position: string) => string
}>()
const emit = defineEmits<{ move: [string] }>()
const track = ref<HTMLElement>()
/** The position that a drag is over. */
const over = ref<string | null>(null)

function under(event: PointerEvent) {
  const box = track.value?.getBoundingClientRect()
  if (!box) return null
  const n = props.part.positions.length
  const at = Math.floor(((event.clientX - box.left) / box.width) * n)
  return props.part.positions[Math.min(n - 1, Math.max(0, at))] ?? null
}
function down(event: PointerEvent) {
  over.value = props.part.now
  track.value?.setPointerCapture(event.pointerId)
}
function drag(event: PointerEvent) {
  if (over.value !== null) over.value = under(event)
}
function up(event: PointerEvent) {
  if (over.value === null) return
  const to = under(event)
  over.value = null
  if (to !== null) emit('move', to)
}
function step(event: KeyboardEvent, by: number) {
  event.preventDefault()
  const all = props.part.positions
  const to = all[all.indexOf(props.part.now) + by]
  if (!to) return
  emit('move', to)
  track.value?.querySelectorAll('button')[all.indexOf(to)]?.focus()
}
</script>

<template>
  <div class="lever" :class="{ live: part.by }">
    <span class="name"
      >{{ name }}<span class="sr">, {{ part.by ? `live from ${part.by}` : 'dead' }}</span></span
    >
    <span v-if="part.itself" class="word">{{ part.now === 'grid' ? 'on the grid' : 'on its station' }}</span>
    <template v-else>
      <span
        ref="track"
        class="track"
        role="group"
        :aria-label="part.name"
        @pointerdown="down"
        @pointermove="drag"
        @pointerup="up"
        @pointercancel="over = null"
      >
        <button
          v-for="to in part.positions"
          :key="to"
          type="button"
          :aria-label="word(to)"
          :aria-pressed="to === part.now"
          :tabindex="to === part.now ? 0 : -1"
          :class="{ knob: to === (over ?? part.now) }"
          @keydown.left="step($event, -1)"
          @keydown.up="step($event, -1)"
          @keydown.right="step($event, 1)"
          @keydown.down="step($event, 1)"
          @click.prevent="$event.detail === 0 && emit('move', to)"
        ></button>
      </span>
      <b class="word">{{ word(part.now) }}</b>
    </template>
  </div>
</template>

<style scoped>
.lever {
  display: flex;
  gap: 8px;
  align-items: center;
  min-height: 34px;
  padding: 2px 8px;
  border-bottom: 1px solid var(--line);
  background: var(--sheet);
}
.live {
  background: repeating-linear-gradient(
    90deg,
    color-mix(in srgb, var(--stored) 30%, var(--sheet)) 0 9px,
    var(--sheet) 9px 18px
  );
}
.name,
.word {
  padding: 1px 5px;
  border-radius: 4px;
  background: var(--sheet);
  font-size: 13px;
  line-height: 1.25;
}
.name {
  min-width: 0;
  margin-right: auto;
}
.word {
  min-width: 56px;
  text-align: right;
}
.track {
  display: inline-flex;
  flex: none;
  border: 1px solid var(--line-strong);
  border-radius: 14px;
  background: var(--spine);
  touch-action: none;
}
.track button {
  display: grid;
  place-items: center;
  width: 26px;
  height: 24px;
  padding: 0;
  border: 0;
  border-radius: 12px;
  background: none;
  cursor: pointer;
}
.track button::before {
  width: 5px;
  height: 5px;
  border-radius: 50%;
  background: var(--line-strong);
  content: '';
}
.track .knob::before {
  width: 18px;
  height: 18px;
  background: var(--deep);
}
@media (max-width: 760px), (pointer: coarse) {
  .lever {
    min-height: 50px;
  }
  .track button {
    width: 44px;
    height: 44px;
  }
  .track {
    border-radius: 24px;
  }
}
@media (forced-colors: active) {
  .track .knob::before {
    background: ButtonText;
  }
  .live .name {
    border-left: 4px double CanvasText;
  }
}
</style>

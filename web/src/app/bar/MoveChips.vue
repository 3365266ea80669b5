<script setup lang="ts">
import { useWindowSize } from '@vueuse/core'
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import type { Move, Op, Verdict } from '@/shared/api/types'
import { edit, undo, useSession } from '@/shared/session/session'
import { amount, hoursText, money } from '@/shared/units/format'
import Fig from '@/shared/ui/Fig.vue'

/** Widenings or fixes: one click tries one, one takes it back. */
const props = defineProps<{ verdict: Verdict }>()
const { state, waiting } = useSession()
const route = useRoute()

const trying = computed(() => (state.value?.trial ? state.value.undo : null))

function gain(m: Move): string {
  if (m.kind === 'fix') {
    if (m.clears) return 'fixes it'
    // The limit shown holds then, but others are still broken.
    return m.after == null ? 'fixes this limit' : `to ${amount(m.after)} ${m.unit}`
  }
  if (m.never_dark) return props.verdict.reaches ? 'lasts to the end' : 'reaches the goal'
  return `+${hoursText(m.hours_gained)}`
}
/** As many as the bar holds whole; a figure that is only assumed is asked for first. */
const width = useWindowSize().width
const room = computed(() => (width.value <= 760 || width.value > (props.verdict.unfed.length ? 1450 : 1150) ? 3 : 2))
const shown = computed(() => props.verdict.chips.slice(0, room.value - (trying.value ? 1 : 0)))
const entered = computed(() => shown.value.filter((m) => m.enter))
const tried = computed(() => shown.value.filter((m) => !m.enter))
const isFigure = (m: Move) => (m.kind === 'fix' ? !m.clears && m.after != null : !m.never_dark)

function attempt(m: Move) {
  edit(m.label, m.ops as Op[], true)
}
const next = computed(() => {
  const s = props.verdict.state
  if (s === 'no_loads') return { name: 'house', text: 'Add a load' }
  if (s === 'nothing_chosen') return { name: 'chosen', text: 'Choose what to power' }
  if (s === 'no_station') return { name: 'source', text: 'Choose a station' }
  return null
})
</script>

<template>
  <div class="chips">
    <RouterLink v-if="next" class="chip" :to="{ name: next.name, params: route.params, query: route.query }">
      {{ next.text }}
    </RouterLink>
    <el-button v-if="trying" class="chip back" :disabled="waiting.length > 0" :title="trying" @click="undo()">
      <b>Undo</b> <span class="what">{{ trying }}</span>
    </el-button>
    <RouterLink
      v-for="m in entered"
      :key="m.id"
      class="chip"
      :to="{ name: 'house', params: route.params, query: { ...route.query, load: m.enter, open: m.enter } }"
      >{{ m.label }}</RouterLink
    >
    <el-button v-for="m in tried" :key="m.id" class="chip" :title="m.label" @click="attempt(m)">
      <span class="gains">
        <b
          ><Fig v-if="isFigure(m)" :text="gain(m)" /><template v-else>{{ gain(m) }}</template></b
        >
        <Fig v-if="m.price && Number(m.price) !== 0" class="price" :text="money(m.price, m.currency)" />
      </span>
      <span class="what">{{ m.label }}</span>
    </el-button>
  </div>
</template>

<style scoped>
.chips {
  display: flex;
  flex: 1;
  justify-content: flex-end;
  gap: 8px;
  min-width: 0;
}
.chip {
  display: inline-flex;
  flex: 1 1 0;
  align-items: center;
  min-width: 110px;
  max-width: 210px;
  min-height: 36px;
  padding: 5px 9px;
  border: 1px solid var(--chip-line);
  border-radius: 9px;
  background: var(--chip);
  color: var(--on-deep);
  font-size: 13px;
  line-height: 1.2;
  text-align: left;
  text-decoration: none;
}
.chip:hover:not(:disabled) {
  border-color: var(--gain);
}
.chip b {
  flex: none;
  color: var(--gain);
}
/* What it gains above what it is, in two lines at most: the bar keeps one height whatever is in it. */
.chip :deep(> span) {
  display: grid;
  gap: 1px;
  min-width: 0;
}
.gains {
  display: flex;
  flex-wrap: wrap;
  gap: 0 8px;
  justify-content: space-between;
}
.price {
  color: var(--on-deep-soft);
}
.what {
  display: -webkit-box;
  overflow: hidden;
  min-width: 0;
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 2;
}
.chip :deep(.fig) {
  min-width: 0;
}
.chip b :deep(span) {
  display: inline;
}
.chip :deep(.fig) {
  display: inline;
}
.back {
  border-style: dashed;
}
.chip:focus-visible {
  outline-color: var(--gain);
}
@media (max-width: 760px) {
  .chips {
    flex-direction: column;
  }
  .chip {
    max-width: none;
    min-height: 44px;
  }
}
</style>

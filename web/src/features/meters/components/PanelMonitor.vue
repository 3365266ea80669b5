<script setup lang="ts">
import { computed } from 'vue'
import type { InstrumentsView } from '@/shared/api/types'
import { useSession } from '@/shared/session/session'
import { watts } from '@/shared/units/format'
import Fig from '@/shared/ui/Fig.vue'
import type { Change } from '../instruments'

/** The panel monitor: W by circuit. Its breakers are switched by a simulated hand. */
const props = defineProps<{ seen: InstrumentsView }>()
const emit = defineEmits<{ set: [Change] }>()
const { state, home } = useSession()
const most = computed(() => Math.max(...props.seen.breakers.map((b) => b.w), 1))
const rows = computed(() =>
  [...props.seen.breakers].sort(
    (a, b) => (home.value?.circuits[a.circuit]?.slots[0] ?? 0) - (home.value?.circuits[b.circuit]?.slots[0] ?? 0),
  ),
)
const toggle = (circuit: string, on: boolean) => emit('set', { breakers: { [circuit]: on } })
</script>

<template>
  <section>
    <h2>
      Panel monitor <span class="soft small">whole panel <Fig :text="watts(seen.main_w)" /></span>
    </h2>
    <ul>
      <li v-for="b in rows" :key="b.circuit" :class="{ off: !b.on }">
        <span class="slot">{{ home?.circuits[b.circuit]?.slots.join('·') }}</span>
        <span class="name">{{ b.name }}</span>
        <span class="bar" aria-hidden="true"><i :style="{ width: `${(100 * b.w) / most}%` }" /></span>
        <span class="w"><Fig :text="b.on ? watts(b.w) : 'off'" /></span>
        <el-button
          class="link small"
          :aria-label="`${b.on ? 'switch off' : 'switch on'}: ${b.name}`"
          @click="toggle(b.circuit, !b.on)"
        >
          {{ b.on ? 'switch off' : 'switch on' }}
        </el-button>
      </li>
    </ul>
    <p class="soft small">
      A real monitor only measures; here a simulated hand switches the breakers. Download its log of last week to try an
      import:
      <a :href="`/api/homes/${state?.id}/instruments/log?days=7&step=60`" download>7 days, every minute (CSV)</a>
    </p>
  </section>
</template>

<style scoped>
h2 span {
  font: 400 13px var(--text);
}
ul {
  margin: 8px 0;
  padding: 0;
  list-style: none;
}
li {
  display: grid;
  grid-template-columns: 48px minmax(110px, 1fr) minmax(60px, 1fr) 62px 76px;
  gap: 8px;
  align-items: center;
  min-height: 23px;
  border-bottom: 1px solid var(--line);
}
.slot,
.w {
  text-align: right;
}
.slot {
  color: var(--soft);
}
.name {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.bar i {
  display: block;
  height: 9px;
  background: var(--stored);
}
.off {
  color: var(--soft);
}
@media (max-width: 760px) {
  li {
    grid-template-columns: 40px 1fr 62px 76px;
    min-height: 44px;
  }
  .bar {
    display: none;
  }
}
</style>

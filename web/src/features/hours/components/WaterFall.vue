<script setup lang="ts">
import { computed } from 'vue'
import type { Run } from '@/shared/api/types'
import { kwh } from '@/shared/units/format'
import Fig from '@/shared/ui/Fig.vue'

/** From stored to delivered, each loss in its own piece, as wide as its share. */
const props = defineProps<{ drops: Run['waterfall'] }>()
const CAME = ['stored', 'sun', 'engine']
/** All that came in: what was stored, the sun, and a generator. */
const stored = computed(() => props.drops.reduce((sum, d) => sum + (CAME.includes(d.kind) ? d.wh : 0), 0) || 1)
const text = (wh: number) => (wh < 0 ? `−${kwh(-wh)}` : kwh(wh))
</script>

<template>
  <ol class="fall" aria-label="From stored to delivered">
    <li
      v-for="d in drops"
      :key="d.name"
      :class="d.kind"
      :style="{ flexGrow: CAME.includes(d.kind) ? 0 : Math.abs(d.wh) / stored }"
    >
      <b><Fig :text="text(d.wh)" /></b>
      <span>{{ d.name }}</span>
    </li>
  </ol>
</template>

<style scoped>
.fall {
  display: flex;
  margin: 0;
  padding: 0;
  border: 1px solid var(--line-strong);
  border-radius: 10px;
  background: var(--sheet);
  list-style: none;
  overflow: hidden;
}
li {
  display: grid;
  flex: 0 1 auto;
  padding: 7px 11px;
  border-right: 1px solid var(--line-strong);
}
li b {
  font: 650 15px var(--head);
}
li span {
  font-size: 12px;
  line-height: 1.2;
}
.stored {
  min-width: 96px;
  background: var(--wash);
}
.sun {
  background: color-mix(in srgb, var(--sun) 35%, transparent);
}
.engine {
  background: color-mix(in srgb, var(--engine) 24%, transparent);
}
.held {
  background-image: repeating-linear-gradient(
    135deg,
    color-mix(in srgb, var(--dark) 35%, transparent) 0 1px,
    transparent 1px 8px
  );
}
.reaches {
  border: 0;
  background: #1c6b73;
  color: #fff;
}
@media (max-width: 760px) {
  .fall {
    flex-direction: column;
  }
  li {
    border-right: 0;
    border-bottom: 1px solid var(--line-strong);
  }
}
</style>

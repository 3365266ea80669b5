<script setup lang="ts">
import { useLocalStorage } from '@vueuse/core'
import { computed } from 'vue'
import type { LiveView, StoreLive } from '@/shared/api/types'
import { uniqueId } from '@/shared/ids'
import { escape } from '@/shared/session/patch'
import { edit } from '@/shared/session/session'

/** What to switch off first, with the hours each brings by itself. “Off now” notes that a hand did it. */
const props = defineProps<{ store: StoreLive; places: LiveView['places']; now: () => string }>()
const who = useLocalStorage('imbuto.who', '')
const rows = computed(() =>
  props.store.first_off.map((x) => ({ ...x, place: props.places.find((p) => p.feed === x.feed) })),
)
function off(feed: string, name: string) {
  const id = `s-${uniqueId()}`
  edit(`${name}: switched off by hand`, [
    {
      doc: 'home',
      op: 'add',
      path: `/live/switched/${escape(id)}`,
      value: { id, feed, on: false, at: props.now(), who: who.value },
    },
  ])
}
</script>

<template>
  <section v-if="rows.length" class="first" data-test="first-off">
    <h3>Switch off first</h3>
    <ol>
      <li v-for="x in rows" :key="x.feed">
        <b>{{ x.name }}</b>
        <span class="gains">{{ x.gains }}</span>
        <el-button
          v-if="x.place?.by_hand"
          class="btn"
          :aria-label="`${x.name}: I switched it off`"
          @click="off(x.feed, x.name)"
          >It’s off</el-button
        >
      </li>
    </ol>
  </section>
</template>

<style scoped>
.first {
  max-width: 60ch;
  margin: 10px 0;
}
h3 {
  margin: 0 0 2px;
}
ol {
  margin: 0;
  padding: 0;
  list-style: none;
}
li {
  display: flex;
  gap: 10px;
  align-items: center;
  min-height: 44px;
  border-bottom: 1px solid var(--line);
}
b {
  flex: 1;
  font-weight: 500;
}
.gains {
  font-weight: 600;
  white-space: nowrap;
}
</style>

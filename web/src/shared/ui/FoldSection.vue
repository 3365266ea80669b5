<script setup lang="ts">
import { useLocalStorage } from '@vueuse/core'

/** A part of a page that is folded until a person opens it; what was opened stays open, on every visit. */
const props = defineProps<{
  /** Its name for what is kept: the place and the part. */
  id: string
  title: string
  /** What it holds, at a glance: a count, or a word. */
  holds?: string | number
  /** Of its heading: 3 under another one, 2 right under the page's. */
  level?: 2 | 3
}>()
const open = useLocalStorage(`fold:${props.id}`, false)
function toggled(event: Event) {
  open.value = (event.target as HTMLDetailsElement).open
}
</script>

<template>
  <details class="fold" :open="open" @toggle="toggled">
    <summary>
      <component :is="level === 2 ? 'h2' : 'h3'" class="title">{{ title }}</component>
      <span v-if="holds !== undefined" class="soft">{{ holds }}</span>
    </summary>
    <slot />
  </details>
</template>

<style scoped>
.fold {
  border-bottom: 1px solid var(--line);
}
summary {
  display: flex;
  align-items: center;
  gap: 8px;
  min-height: 36px;
  cursor: pointer;
  list-style: none;
}
summary::-webkit-details-marker {
  display: none;
}
.title {
  margin: 0;
  font-size: 15px;
}
.title::after {
  content: ' ▸' / '';
  color: var(--soft);
}
.fold[open] .title::after {
  content: ' ▾' / '';
}
summary > span {
  margin-left: auto;
}
.fold > :deep(:last-child) {
  margin-bottom: 10px;
}
</style>

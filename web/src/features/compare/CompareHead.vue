<script setup lang="ts">
import { useRoute } from 'vue-router'

/** The head of both pages of Compare: its name, its pages, and in the slot what can be done there. */
const route = useRoute()
const PAGES = [
  { name: 'compare', text: 'Plans × outages' },
  { name: 'size', text: 'How large' },
]
</script>

<template>
  <header>
    <div>
      <h1>Compare</h1>
      <nav aria-label="Compare" class="tabs">
        <RouterLink
          v-for="p in PAGES"
          :key="p.name"
          :to="{ name: p.name, params: route.params, query: route.query }"
          :class="{ here: route.name === p.name }"
          >{{ p.text }}</RouterLink
        >
      </nav>
    </div>
    <div class="tools fields"><slot /></div>
  </header>
</template>

<style scoped>
.tools :slotted(label) {
  display: flex;
  gap: 8px;
  align-items: center;
  color: var(--soft);
}
</style>

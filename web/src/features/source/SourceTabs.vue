<script setup lang="ts">
import { useRoute } from 'vue-router'

/** The pages of Source. */
const route = useRoute()
const PAGES = [
  { name: 'source', text: 'Station' },
  { name: 'sun', text: 'Sun' },
  { name: 'fuel', text: 'Fuel' },
  { name: 'joining', text: 'How it is joined' },
  { name: 'equipment', text: 'Equipment' },
]
</script>

<template>
  <nav aria-label="Source" class="tabs">
    <RouterLink
      v-for="p in PAGES"
      :key="p.name"
      :to="{ name: p.name, params: route.params, query: route.query }"
      :class="{ here: route.name === p.name }"
      >{{ p.text }}</RouterLink
    >
  </nav>
</template>

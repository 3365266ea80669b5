<script setup lang="ts">
import { useRoute } from 'vue-router'

/** The pages of a place, as a row of links that keep what is judged. */
defineProps<{ label: string; pages: { name: string; text: string }[] }>()
const route = useRoute()
</script>

<template>
  <nav :aria-label="label" class="tabs">
    <RouterLink
      v-for="p in pages"
      :key="p.name"
      :to="{ name: p.name, params: route.params, query: route.query }"
      :class="{ here: route.name === p.name }"
      >{{ p.text }}</RouterLink
    >
  </nav>
</template>

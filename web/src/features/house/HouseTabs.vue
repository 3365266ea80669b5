<script setup lang="ts">
import { useRoute } from 'vue-router'
import { useSession } from '@/shared/session/session'

/** The pages of House. */
const route = useRoute()
const { home } = useSession()
const PAGES = [
  { name: 'house', text: 'Circuits' },
  { name: 'whole', text: 'Whole house' },
  { name: 'meters', text: 'Meters' },
  { name: 'goals', text: 'Goals' },
]
</script>

<template>
  <nav aria-label="House" class="tabs">
    <RouterLink
      v-for="p in PAGES"
      :key="p.name"
      :to="{ name: p.name, params: route.params, query: { plan: route.query.plan, outage: route.query.outage } }"
      :class="{ here: route.name === p.name }"
      >{{ p.name === 'house' && !home?.service.slots ? 'Loads' : p.text }}</RouterLink
    >
    <RouterLink v-if="home?.service.slots" class="walk" :to="{ name: 'walk', params: route.params }"
      >Walk the house</RouterLink
    >
  </nav>
</template>

<style scoped>
.walk {
  color: var(--stored-ink);
  text-decoration: underline;
  text-underline-offset: 3px;
}
</style>

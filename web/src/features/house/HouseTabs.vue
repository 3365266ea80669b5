<script setup lang="ts">
import { useRoute } from 'vue-router'
import { useSession } from '@/shared/session'

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
  <nav aria-label="House">
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
nav {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 16px;
  margin-top: 6px;
}
a {
  white-space: nowrap;
  padding: 3px 0;
  border-bottom: 3px solid transparent;
  color: var(--soft);
  text-decoration: none;
}
a:hover {
  color: var(--ink);
}
.here {
  border-color: var(--stored);
  color: var(--ink);
  font-weight: 650;
}
.walk {
  color: var(--stored-ink);
  text-decoration: underline;
  text-underline-offset: 3px;
}
@media (max-width: 760px) {
  a {
    min-height: 44px;
    display: flex;
    align-items: center;
  }
}
</style>

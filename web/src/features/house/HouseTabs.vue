<script setup lang="ts">
import { PAGE_NAMES } from '@/shared/pageNames'
import { useRoute } from 'vue-router'
import { useSession } from '@/shared/session/session'

/** The pages of House. */
const route = useRoute()
const { home } = useSession()
const PAGES = [
  { name: 'house', text: 'Circuits' },
  { name: 'whole', text: PAGE_NAMES.whole },
  { name: 'meters', text: PAGE_NAMES.meters },
  { name: 'goals', text: PAGE_NAMES.goals },
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
      >Map the breakers</RouterLink
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

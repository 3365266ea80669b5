<script setup lang="ts">
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { useSession } from '@/shared/session/session'

/** On a phone, while an outage is on: the four places that matter then, in reach of a thumb. */
const route = useRoute()
const { state, pair } = useSession()
const to = (name: string, hash = '') => ({ name, params: { home: state.value?.id }, query: pair.value, hash })
const card = computed(
  () =>
    `/api/homes/${encodeURIComponent(state.value?.id ?? '')}/papers/run-card.html?` +
    new URLSearchParams({ plan: pair.value.plan, outage: pair.value.outage }).toString(),
)
</script>

<template>
  <nav aria-label="In the outage">
    <RouterLink :to="to('live')" :class="{ here: route.name === 'live' && !route.hash }">Now</RouterLink>
    <RouterLink :to="to('storm')" :class="{ here: route.name === 'storm' }">Switching</RouterLink>
    <a :href="card">Card</a>
    <RouterLink :to="to('live', '#note')" :class="{ here: route.name === 'live' && route.hash === '#note' }"
      >Note</RouterLink
    >
  </nav>
</template>

<style scoped>
nav {
  display: grid;
  grid-template-columns: repeat(4, 1fr);
  border-top: 1px solid var(--line);
  background: var(--well);
}
a {
  display: grid;
  place-items: center;
  min-height: 52px;
  color: var(--ink);
  font: 650 15px var(--head);
  text-decoration: none;
}
.here {
  background: var(--ink);
  color: var(--paper);
}
</style>

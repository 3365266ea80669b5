<script setup lang="ts">
import { useRoute } from 'vue-router'
import type { LiveView } from '@/shared/api/types'

/** The bar while an outage is on: what can be counted on now, and what to do next. */
defineProps<{ headline: NonNullable<LiveView['headline']> }>()
const route = useRoute()
</script>

<template>
  <div class="live" data-test="live-headline">
    <span class="quiet">Outage on · {{ headline.label }}</span>
    <strong v-if="headline.figure" :class="{ bad: headline.off }">{{ headline.figure }}</strong>
    <span class="quiet">{{ headline.under }}</span>
  </div>
  <div class="next">
    <span class="quiet">Next</span>
    <strong>{{ headline.next }}</strong>
  </div>
  <RouterLink :to="{ path: `/home/${String(route.params.home)}/live`, query: route.query }"> Outage now </RouterLink>
</template>

<style scoped>
.live,
.next {
  display: grid;
}
.live strong {
  font: 650 24px/1.15 var(--head);
}
.next {
  flex: 1;
}
.next strong {
  font: 650 16px/1.2 var(--head);
}
.quiet {
  font-size: 12.5px;
  color: var(--on-deep-soft);
}
.bad {
  color: var(--dark-on-bar);
}
a {
  color: inherit;
}
</style>

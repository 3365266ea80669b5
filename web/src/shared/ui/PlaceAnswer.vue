<script setup lang="ts">
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { useSession } from '@/shared/session/session'

/** What a place answers about the pair, in a sentence or two, and the act that helps most next. */
const props = defineProps<{ place: string }>()
const { verdict } = useSession()
const route = useRoute()
const found = computed(() => verdict.value?.places[props.place])
const query = computed(() => ({
  plan: route.query.plan,
  outage: route.query.outage,
  ...(found.value?.load ? { load: found.value.load } : {}),
}))
</script>

<template>
  <p class="place-answer" data-test="place-answer">
    <span class="words">{{ found?.words }}</span>
    <template v-if="found?.next">
      {{ ' '
      }}<RouterLink class="next" :to="{ name: found.to, params: route.params, query }">{{ found.next }}</RouterLink>
    </template>
  </p>
</template>

<style scoped>
.place-answer {
  max-width: 80ch;
  /* Two lines, said or not: what is beneath must not move while it is dragged. */
  min-height: 2lh;
  margin: 2px 0 0;
}
.words {
  font-weight: 600;
}
.next {
  white-space: nowrap;
}
@media (max-width: 760px) {
  .place-answer {
    min-height: 0;
  }
  .next {
    white-space: normal;
  }
}
</style>

<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { answer, api } from '@/shared/api/client'
import type { FrontView } from '@/shared/api/types'

/** A home among others: what it can do now, when it was tested, what is due. */
const props = defineProps<{ id: string; name: string }>()
defineEmits<{ remove: [] }>()
const query = useQuery({
  queryKey: computed(() => ['front', props.id]),
  // Left before it is there, it is given up: with many homes the page after this one would wait behind them all.
  queryFn: ({ signal }) =>
    answer(api.GET('/api/homes/{home_id}/front', { params: { path: { home_id: props.id } }, signal })),
})
const front = computed(() => query.data.value as FrontView | undefined)
const at = computed(() => `/home/${encodeURIComponent(props.id)}`)
</script>

<template>
  <li>
    <div class="said">
      <RouterLink class="name" :to="front ? `${at}/house?plan=${front.plan}&outage=${front.outage}` : `${at}/house`">{{
        name
      }}</RouterLink>
      <p v-if="query.isError.value" class="soft">{{ query.error.value?.message }}</p>
      <p v-else-if="!front" class="soft" role="status">Calculating…</p>
      <template v-else>
        <p>
          {{ front.plan_name }} in {{ front.outage_name }}: <b data-figure>{{ front.says }}</b>; {{ front.tested }}
        </p>
        <p v-if="front.due.length" class="soft">Due: {{ front.due.slice(0, 3).join('; ') }}</p>
      </template>
    </div>
    <div class="acts">
      <RouterLink
        v-if="front"
        class="btn tiny out"
        :class="{ strong: front.live }"
        :to="`${at}/live?plan=${front.plan}&outage=${front.outage}`"
        :aria-label="`${front.live ? 'An outage is on' : 'Power is out'}: ${name}`"
        >{{ front.live ? 'An outage is on' : 'Power is out' }}</RouterLink
      >
      <a
        class="btn tiny"
        :href="`/api/homes/${encodeURIComponent(id)}/export`"
        download
        :aria-label="`Save as a plan file: ${name}`"
        >Save as a plan file</a
      >
      <el-button class="btn tiny" :aria-label="`Remove ${name}`" @click="$emit('remove')">Remove</el-button>
    </div>
  </li>
</template>

<style scoped>
li {
  display: flex;
  flex-wrap: wrap;
  align-items: flex-start;
  gap: 8px 16px;
  padding: 12px 2px;
  border-bottom: 1px solid var(--line);
}
.said {
  flex: 1 1 320px;
}
.name {
  color: var(--ink);
  font: 650 18px var(--head);
}
p {
  margin: 2px 0;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
.out {
  font-weight: 700;
}
@media (max-width: 760px) {
  .out {
    display: grid;
    place-items: center;
    width: 100%;
    min-height: 48px;
    font-size: 16px;
    background: var(--deep);
    color: var(--on-deep);
  }
}
</style>

<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { answer, api } from '@/shared/api/client'
import type { Load, ReadingView } from '@/shared/api/types'
import { takeBack, useSession } from '@/shared/session'

/** Every reading of these loads, the counting ones marked; the rest one click away. */
const props = defineProps<{ loads: Load[] }>()
const { state, pair, served } = useSession()
const all = ref(false)
const readings = useQuery({
  queryKey: computed(() => ['readings', state.value?.id, served.value, pair.value.plan, pair.value.outage]),
  queryFn: () => {
    const params = { path: { home_id: state.value?.id ?? '' }, query: { ...pair.value } }
    return answer(api.GET('/api/homes/{home_id}/readings', { params }))
  },
  placeholderData: keepPreviousData,
})
const mine = computed(() => (readings.data.value ?? []).filter((r) => props.loads.some((l) => l.id === r.load)))
const shown = computed(() => (all.value ? mine.value : mine.value.filter((r) => counts(r))))
const counts = (r: ReadingView) => r.gives.some((g) => g.wins)
const hidden = computed(() => mine.value.length - mine.value.filter(counts).length)
const name = (r: ReadingView) => props.loads.find((l) => l.id === r.load)?.name ?? ''
const day = (iso: string) => new Date(iso).toLocaleDateString(undefined, { day: 'numeric', month: 'short' })
const QUANTITY = { average_w: 'average', run_w: 'running', rest_w: 'resting', start_va: 'starting' }
function part(r: ReadingView): string {
  if (r.withdrawn) return 'taken back'
  if (r.problem) return r.problem
  const wins = r.gives.filter((g) => g.wins).map((g) => QUANTITY[g.quantity])
  return wins.length ? `counts for ${wins.join(', ')}` : 'a better one counts'
}
</script>

<template>
  <section v-if="mine.length" aria-label="Readings">
    <ul>
      <li v-for="r in shown" :key="r.id" :class="{ gone: r.withdrawn }">
        <span class="soft small">{{ day(r.at) }}</span>
        <span class="raw"
          ><b v-if="loads.length > 1">{{ name(r) }}</b> {{ r.raw }}</span
        >
        <span class="soft small part">{{ part(r) }}</span>
        <button v-if="!r.withdrawn" class="link small" @click="takeBack(r.id)">take back</button>
      </li>
    </ul>
    <button v-if="hidden || all" class="link small soft" @click="all = !all">
      {{ all ? 'only those that count' : `${hidden} more, which do not count` }}
    </button>
  </section>
</template>

<style scoped>
ul {
  margin: 8px 0 2px;
  padding: 0;
  list-style: none;
}
li {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 9px;
  align-items: baseline;
  padding: 3px 0;
}
.raw {
  flex: 1 1 200px;
}
.gone .raw {
  text-decoration: line-through;
}
@media (max-width: 760px) {
  li .link {
    min-height: 44px;
  }
}
</style>

<script setup lang="ts">
import { computed, defineAsyncComponent, ref } from 'vue'
import type { Load, ReadingView } from '@/shared/api/types'
import { useHomeQuery } from '@/shared/session/homeQuery'
import { takeBack, useSession } from '@/shared/session/session'

const SeriesDialog = defineAsyncComponent(() => import('./SeriesDialog.vue'))

/** Every reading of these loads, and of their circuit, the counting ones marked; the rest one click away. */
const props = defineProps<{ loads: Load[]; circuit?: string; whole?: boolean }>()
const { state, pair } = useSession()
const all = ref(false)
const readings = useHomeQuery('/api/homes/{home_id}/readings', { query: pair })
const series = useHomeQuery('/api/homes/{home_id}/series')
const looking = ref('')
const seriesOf = (r: ReadingView) => (series.data.value ?? []).find((s) => s.reading === r.id)
const belongs = (r: ReadingView) =>
  props.loads.some((l) => l.id === r.load) ||
  (!!props.circuit && r.circuit === props.circuit) ||
  (!!props.whole && !r.load && !r.circuit)
const mine = computed(() => (readings.data.value ?? []).filter(belongs))
const shown = computed(() => (all.value ? mine.value : mine.value.filter((r) => counts(r))))
const counts = (r: ReadingView) => r.gives.some((g) => g.wins) || (!r.load && !r.withdrawn)
const hidden = computed(() => mine.value.length - mine.value.filter(counts).length)
const named = (r: ReadingView) => (r.load ? props.loads.length > 1 : !props.whole)
const day = (iso: string) => new Date(iso).toLocaleDateString(undefined, { day: 'numeric', month: 'short' })
const QUANTITY = {
  average_w: 'average',
  run_w: 'running',
  rest_w: 'resting',
  start_va: 'starting',
  highest_w: 'its highest',
  hours_a_day: 'hours per day',
  count: 'how many',
}
function part(r: ReadingView): string {
  if (r.withdrawn) return 'undone'
  if (r.problem) return r.problem
  if (!r.load) return r.circuit ? 'the whole circuit' : 'the whole house'
  const wins = r.gives.filter((g) => g.wins).map((g) => QUANTITY[g.quantity])
  return wins.length ? `counts for ${wins.join(', ')}` : 'a better reading counts'
}
</script>

<template>
  <section v-if="mine.length" aria-label="Readings">
    <ul>
      <li v-for="r in shown" :key="r.id" :class="{ gone: r.withdrawn }">
        <span class="soft small">{{ day(r.at) }}</span>
        <span class="raw"
          ><b v-if="named(r)">{{ r.of }}</b> {{ r.raw }}</span
        >
        <span class="soft small part">{{ part(r) }}</span>
        <template v-if="seriesOf(r)">
          <el-button class="link small" @click="looking = seriesOf(r)?.id ?? ''">look</el-button>
          <a class="small" :href="`/api/homes/${state?.id}/series/${seriesOf(r)?.id}/csv`" download>CSV</a>
        </template>
        <el-button v-if="!r.withdrawn" class="link small" @click="takeBack(r.id)">undo</el-button>
      </li>
    </ul>
    <el-button v-if="hidden || all" class="link small soft" @click="all = !all">
      {{ all ? 'only those that count' : `${hidden} more, which do not count` }}
    </el-button>
    <SeriesDialog v-if="looking" :id="looking" @close="looking = ''" />
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

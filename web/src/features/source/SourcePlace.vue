<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useCatalogue } from '@/features/equipment/useCatalogue'
import { answer, api } from '@/shared/api/client'
import blanks from '@/shared/api/blanks.json'
import type { ModuleKind, Op, Source, Station, StationView } from '@/shared/api/types'
import { freshId } from '@/shared/ids'
import { escape } from '@/shared/patch'
import { edit, useSession } from '@/shared/session'
import BesideLoads from './components/BesideLoads.vue'
import JoiningSettings from './components/JoiningSettings.vue'
import SourceSettings from './components/SourceSettings.vue'
import StationTable from './components/StationTable.vue'
import SourceHead from './SourceHead.vue'

const { state, home, plan, pair, served, verdict } = useSession()
const sources = computed(() => Object.values(plan.value?.sources ?? {}))
const chosen = ref('')
const source = computed(() => sources.value.find((s) => s.id === chosen.value) ?? sources.value[0] ?? null)
const first = computed(() => source.value === (sources.value[0] ?? null))
const known = computed(() => verdict.value?.parts.map((p) => p.source) ?? [])
const options = useQuery({
  queryKey: computed(() => [
    'options',
    state.value?.id,
    served.value,
    pair.value.plan,
    pair.value.outage,
    source.value?.id,
  ]),
  queryFn: () => {
    const named = first.value ? {} : { source: source.value?.id }
    const params = { path: { home_id: state.value?.id ?? '' }, query: { ...pair.value, ...named } }
    return answer(api.GET('/api/homes/{home_id}/options', { params }))
  },
  // A station just added is asked about once the server knows it.
  enabled: computed(
    () => !!pair.value.plan && !!pair.value.outage && (first.value || known.value.includes(source.value?.id ?? '')),
  ),
  placeholderData: keepPreviousData,
})
/** Every column is compared: the table takes the room of the settings. */
const every = ref(false)
const catalogue = useCatalogue()
const kinds = computed(() => Object.values(catalogue.data.value?.catalogue.modules ?? {}) as ModuleKind[])
const stations = computed<StationView[]>(() => options.data.value ?? [])
const current = computed(() => stations.value.find((s) => s.station.id === source.value?.station) ?? null)

function newSource(id: string, station: string, modules = 0): Source {
  return { ...(blanks.source as unknown as Source), id, station, modules }
}
function pick(station: Station, modules: number) {
  const p = plan.value
  if (!p) return
  const label = `${station.name}${modules ? ` + ${modules} ${station.module_name}` : ''}`
  const now = source.value
  const ops: Op[] = now
    ? [
        { doc: p.id, op: 'replace', path: `/sources/${escape(now.id)}/station`, value: station.id },
        { doc: p.id, op: 'replace', path: `/sources/${escape(now.id)}/modules`, value: modules },
        // Another station stands alone, with modules of its own kind, until someone links it.
        ...(now.station === station.id
          ? []
          : Object.entries({ units: 1, link: 'parallel', module: null, owned: false }).map(([field, value]): Op => ({
              doc: p.id,
              op: 'replace',
              path: `/sources/${escape(now.id)}/${field}`,
              value,
            }))),
      ]
    : [{ doc: p.id, op: 'add', path: '/sources/main', value: newSource('main', station.id, modules) }]
  edit(`Source: ${label}`, ops)
}

function none() {
  const p = plan.value
  const s = source.value
  if (!p || !s) return
  const gone = Object.values(p.feeds).filter((f) => !first.value && f.source === s.id)
  const arrays = Object.values(p.arrays).filter((x) => !first.value && x.source === s.id)
  edit(first.value ? 'No station' : `Without ${nameOf(s)}`, [
    ...gone.map((f): Op => ({ doc: p.id, op: 'remove', path: `/feeds/${escape(f.id)}` })),
    ...arrays.map((x): Op => ({ doc: p.id, op: 'remove', path: `/arrays/${escape(x.id)}` })),
    ...(p.engine?.source === s.id && !first.value
      ? [{ doc: p.id, op: 'replace', path: '/engine', value: null } as Op]
      : []),
    { doc: p.id, op: 'remove', path: `/sources/${escape(s.id)}` },
  ])
  chosen.value = ''
}
const nameOf = (s: Source) => stations.value.find((x) => x.station.id === s.station)?.station.name ?? s.station
/** A station beside the first: it stands where its appliances are, and feeds them by cords. */
function beside() {
  const p = plan.value
  const smallest = stations.value[0]?.station
  if (!p || !smallest) return
  const id = freshId('beside', sources.value)
  edit(`Another station: ${smallest.name}`, [
    { doc: p.id, op: 'add', path: `/sources/${id}`, value: newSource(id, smallest.id) },
  ])
  chosen.value = id
}
</script>

<template>
  <div v-if="home && plan" class="place">
    <SourceHead>
      <button v-if="sources.length" class="btn" :disabled="!stations.length" @click="beside">
        Another station beside it
      </button>
      <button v-if="source && (!first || sources.length === 1)" class="btn" @click="none">Take the station away</button>
    </SourceHead>
    <p v-if="options.isError.value" role="alert">The stations could not be judged; the server does not answer.</p>
    <nav v-if="sources.length > 1" class="segments" aria-label="Stations of this plan">
      <button v-for="(s, i) in sources" :key="s.id" :aria-pressed="s.id === source?.id" @click="chosen = s.id">
        {{ nameOf(s) }} <span class="soft small">{{ i ? 'by cords' : 'at the transfer equipment' }}</span>
      </button>
    </nav>
    <div class="columns">
      <section class="table scroll" :aria-busy="options.isFetching.value">
        <p v-if="options.isPending.value" class="soft" role="status">Trying every station in this plan…</p>
        <StationTable
          v-model:all="every"
          :stations="stations"
          :source="source"
          :simulated="verdict?.simulated_h ?? 0"
          @pick="pick"
        />
      </section>
      <SourceSettings
        v-if="!every && source && current"
        class="settings scroll"
        :plan="plan"
        :source="source"
        :simulated="verdict?.simulated_h ?? 0"
        :view="current"
        :kinds="kinds"
        @pick="(modules) => current && pick(current.station as Station, modules)"
      >
        <BesideLoads v-if="!first" :plan="plan" :home="home" :source="source" :station="current.station as Station" />
        <JoiningSettings
          v-else
          :plan="plan"
          :home="home"
          :station="current.station as Station"
          :modules="source.modules"
          :cords="verdict?.rail.place_word === 'outlets'"
        />
      </SourceSettings>
      <aside v-else-if="!every && source" class="settings">
        <p class="soft" role="status">Trying every station in this plan…</p>
      </aside>
      <aside v-else-if="!every" class="settings">
        <h2>No station yet</h2>
        <p>Pick one from the table. Until then the bar below says how much a goal needs.</p>
      </aside>
    </div>
  </div>
</template>

<style scoped>
.table {
  flex: 1;
  min-width: 0;
}
.settings {
  flex: 0 0 290px;
}
@media (max-width: 760px) {
  .table {
    overflow-x: auto;
  }
  .settings {
    flex: none;
  }
}
</style>

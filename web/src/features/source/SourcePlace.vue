<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useCatalogue } from '@/features/equipment/useCatalogue'
import { answer, api } from '@/shared/api/client'
import type { ModuleKind, Op, Station, StationView } from '@/shared/api/types'
import { escape } from '@/shared/patch'
import { edit, useSession } from '@/shared/session'
import JoiningSettings from './components/JoiningSettings.vue'
import SourceSettings from './components/SourceSettings.vue'
import StationTable from './components/StationTable.vue'
import SourceHead from './SourceHead.vue'

const { state, home, plan, pair, served, verdict } = useSession()
const options = useQuery({
  queryKey: computed(() => ['options', state.value?.id, served.value, pair.value.plan, pair.value.outage]),
  queryFn: () => {
    const params = { path: { home_id: state.value?.id ?? '' }, query: { ...pair.value } }
    return answer(api.GET('/api/homes/{home_id}/options', { params }))
  },
  enabled: computed(() => !!pair.value.plan && !!pair.value.outage),
  placeholderData: keepPreviousData,
})
/** Every column is compared: the table takes the room of the settings. */
const every = ref(false)
const catalogue = useCatalogue()
const kinds = computed(() => Object.values(catalogue.data.value?.catalogue.modules ?? {}) as ModuleKind[])
const source = computed(() => Object.values(plan.value?.sources ?? {})[0] ?? null)
const stations = computed<StationView[]>(() => options.data.value ?? [])
const current = computed(() => stations.value.find((s) => s.station.id === source.value?.station) ?? null)

function pick(station: Station, modules: number) {
  const p = plan.value
  if (!p) return
  const label = `${station.name}${modules ? ` + ${modules} ${station.module_name}` : ''}`
  const now = source.value
  const fresh = {
    id: 'main',
    station: station.id,
    modules,
    module: null,
    units: 1,
    link: 'parallel',
    spot: 'indoors',
    deliverable: 0.97,
    health: 1,
  }
  const ops: Op[] = now
    ? [
        { doc: p.id, op: 'replace', path: `/sources/${escape(now.id)}/station`, value: station.id },
        { doc: p.id, op: 'replace', path: `/sources/${escape(now.id)}/modules`, value: modules },
        // Another station stands alone, with modules of its own kind, until someone links it.
        ...(now.station === station.id
          ? []
          : Object.entries({ units: 1, link: 'parallel', module: null }).map(([field, value]): Op => ({
              doc: p.id,
              op: 'replace',
              path: `/sources/${escape(now.id)}/${field}`,
              value,
            }))),
      ]
    : [{ doc: p.id, op: 'add', path: '/sources/main', value: fresh }]
  edit(`Source: ${label}`, ops)
}

function none() {
  const p = plan.value
  if (p && source.value) edit('No station', [{ doc: p.id, op: 'remove', path: `/sources/${escape(source.value.id)}` }])
}
</script>

<template>
  <div v-if="home && plan" class="place">
    <SourceHead>
      <button v-if="source" class="btn" @click="none">Take the station away</button>
    </SourceHead>
    <p v-if="options.isError.value" role="alert">The stations could not be judged; the server does not answer.</p>
    <div class="columns">
      <section class="table scroll">
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
        <JoiningSettings
          :plan="plan"
          :home="home"
          :station="current.station as Station"
          :modules="source.modules"
          :cords="verdict?.rail.place_word === 'outlets'"
        />
      </SourceSettings>
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

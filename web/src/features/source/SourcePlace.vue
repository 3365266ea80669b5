<script setup lang="ts">
import { computed, ref } from 'vue'
import { useCatalogue } from '@/features/equipment/useCatalogue'
import { blanks } from '@/shared/api/blanks'
import type { Op, Source, Station, StationView, PlanPath } from '@/shared/api/types'
import { freshId } from '@/shared/ids'
import { escape } from '@/shared/session/patch'
import { useHomeQuery } from '@/shared/session/homeQuery'
import { edit, useSession } from '@/shared/session/session'
import { hoursText } from '@/shared/units/format'
import PlaceAnswer from '@/shared/ui/PlaceAnswer.vue'
import BanksEditor from './components/BanksEditor.vue'
import BesideLoads from './components/BesideLoads.vue'
import JoiningSettings from './components/JoiningSettings.vue'
import SourceSettings from './components/SourceSettings.vue'
import StationTable from './components/StationTable.vue'
import TurnAndAway from './components/TurnAndAway.vue'
import SourceHead from './SourceHead.vue'

const { home, plan, pair, verdict } = useSession()
const sources = computed(() => Object.values(plan.value?.sources ?? {}))
const chosen = ref('')
const source = computed(() => sources.value.find((s) => s.id === chosen.value) ?? sources.value[0] ?? null)
const first = computed(() => source.value === (sources.value[0] ?? null))
const known = computed(() => verdict.value?.parts.map((p) => p.source) ?? [])
const options = useHomeQuery('/api/homes/{home_id}/options', {
  query: () => ({ ...pair.value, ...(first.value ? {} : { source: source.value?.id ?? '' }) }), // A station just added is asked about once the server knows it.
  enabled: () =>
    !!pair.value.plan && !!pair.value.outage && (first.value || known.value.includes(source.value?.id ?? '')),
})
/** Every column is compared: the table takes the room of the settings. */
const every = ref(false)
const catalogue = useCatalogue()
const kinds = computed(() => Object.values(catalogue.data.value?.catalogue.modules ?? {}))
const stations = computed<StationView[]>(() => options.data.value ?? [])
const current = computed(() => stations.value.find((s) => s.station.id === source.value?.station) ?? null)

function newSource(id: string, station: string, modules = 0): Source {
  return { ...blanks.source, id, station, modules }
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
          : (
              [
                ['units', 1],
                ['link', 'parallel'],
                ['module', null],
                ['owned', false],
              ] as const
            ).map(([field, value]): Op => {
              return { doc: p.id, op: 'replace', path: `/sources/${escape(now.id)}/${field}`, value }
            })),
      ]
    : [{ doc: p.id, op: 'add', path: `/sources/${escape('main')}`, value: newSource('main', station.id, modules) }]
  edit(`Source: ${label}`, ops)
}

function none() {
  const p = plan.value
  const s = source.value
  if (!p || !s) return
  const only = sources.value.length === 1
  const word = only ? 'No station' : `Without ${nameOf(s)}`
  const drop = (path: PlanPath): Op => ({ doc: p.id, op: 'remove', path })
  const reset = (path: PlanPath): Op => ({ doc: p.id, op: 'replace', path, value: null })
  const mine = <T extends { id: string; source: string }>(of: Record<string, T>) =>
    only ? [] : Object.values(of).filter((x) => x.source === s.id)
  const banks = Object.values(p.banks).filter((b) => b.to === s.id)
  const fed = mine(p.feeds).map((f) => f.id)
  const engine = p.engine && !only && p.engine.source === s.id
  edit(word, [
    ...sources.value
      .filter((x) => x.plugged_into && fed.includes(x.plugged_into))
      .map((x) => reset(`/sources/${escape(x.id)}/plugged_into`)),
    ...sources.value.filter((x) => x.after === s.id).map((x) => reset(`/sources/${escape(x.id)}/after`)),
    ...mine(p.feeds).map((f) => drop(`/feeds/${escape(f.id)}`)),
    ...Object.values(p.arrays)
      .filter((x) => (!only && x.source === s.id) || banks.some((b) => b.id === x.source))
      .map((x) => drop(`/arrays/${escape(x.id)}`)),
    ...banks.map((x) => drop(`/banks/${escape(x.id)}`)),
    ...Object.values(p.devices)
      .filter((d) => d.behind && mine(p.devices).some((gone) => gone.id === d.behind) && d.source !== s.id)
      .map((d) => reset(`/devices/${escape(d.id)}/behind`)),
    ...mine(p.devices).map((d) => drop(`/devices/${escape(d.id)}`)),
    ...(engine ? [reset('/engine')] : []),
    drop(`/sources/${escape(s.id)}`),
  ])
  chosen.value = ''
}
const nameOf = (s: Source) => stations.value.find((x) => x.station.id === s.station)?.station.name ?? s.station
const names = computed(() => Object.fromEntries(sources.value.map((s) => [s.id, nameOf(s)])))
/** What a station feeds, in a word or two, with the hours the verdict has for it. */
function does(s: Source): string {
  const part = verdict.value?.parts.find((x) => x.source === s.id)
  const hours = part
    ? part.hours === null
      ? `over ${hoursText(verdict.value?.simulated_h ?? 0)}`
      : hoursText(part.hours)
    : ''
  const how = s.after
    ? 'waits at an inlet'
    : s.plugged_into
      ? 'behind another'
      : Object.values(plan.value?.devices ?? {}).some((d) => d.source === s.id)
        ? 'at a device'
        : 'by cords'
  return hours && !s.after ? `${how}, ${hours}` : how
}
/** A station beside the first: it stands where its appliances are, and feeds them by cords. */
function beside() {
  const p = plan.value
  const smallest = stations.value[0]?.station
  if (!p || !smallest) return
  const id = freshId('beside', sources.value)
  edit(`Another station: ${smallest.name}`, [
    { doc: p.id, op: 'add', path: `/sources/${escape(id)}`, value: newSource(id, smallest.id) },
  ])
  chosen.value = id
}
</script>

<template>
  <div v-if="home && plan" class="place">
    <SourceHead>
      <el-button v-if="sources.length" class="btn" :disabled="!stations.length" @click="beside">
        Another station next to it
      </el-button>
      <el-button v-if="source" class="btn" @click="none">Remove the station</el-button>
    </SourceHead>
    <PlaceAnswer place="source" class="first" />
    <p v-if="options.isError.value" role="alert">The stations aren’t compared because the server isn’t responding.</p>
    <nav v-if="sources.length > 1" class="segments" aria-label="Stations of this plan">
      <el-button v-for="s in sources" :key="s.id" :aria-pressed="s.id === source?.id" @click="chosen = s.id">
        {{ nameOf(s) }} <span class="soft small">{{ does(s) }}</span>
      </el-button>
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
        <BesideLoads
          v-if="!first && !source.after"
          :plan="plan"
          :home="home"
          :source="source"
          :station="current.station as Station"
        />
        <TurnAndAway :plan="plan" :source="source" :name="nameOf(source)" :names="names" />
        <JoiningSettings
          :plan="plan"
          :home="home"
          :source="source"
          :station="current.station as Station"
          :modules="source.modules"
        />
        <BanksEditor :plan="plan" :source="source" :station="current.station as Station" />
      </SourceSettings>
      <aside v-else-if="!every && source && options.isError.value" class="settings">
        <p class="soft">The settings appear with the stations.</p>
      </aside>
      <aside v-else-if="!every && source" class="settings">
        <p class="soft" role="status">Trying every station in this plan…</p>
      </aside>
      <aside v-else-if="!every" class="settings">
        <h2>No station yet</h2>
        <p>Choose one from the table. Until then the bar below shows how much energy the goal needs.</p>
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

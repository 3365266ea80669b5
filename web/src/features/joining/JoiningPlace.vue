<script setup lang="ts">
import { computed, ref } from 'vue'
import SourceHead from '@/features/source/SourceHead.vue'
import type { PossibleFeed } from '@/shared/api/types'
import { useHomeQuery } from '@/shared/session/homeQuery'
import { useSession } from '@/shared/session/session'
import { number } from '@/shared/units/format'
import Fig from '@/shared/ui/Fig.vue'
import StationSegments from '@/shared/ui/StationSegments.vue'
import DiagramDrawing from './components/DiagramDrawing.vue'
import { asFile } from './save'
import PrintLink from '@/shared/ui/PrintLink.vue'

/** How everything is joined, drawn from the plan; and every possible feed with the position that selects it. */
const { plan, pair, verdict } = useSession()
const shown = ref<'grid' | 'outage'>('outage')
const drawing = ref<HTMLElement>()
const stations = computed(() => verdict.value?.parts ?? [])
const chosen = ref('')
const station = computed(() => (stations.value.some((s) => s.source === chosen.value) ? chosen.value : ''))
const query = useHomeQuery('/api/homes/{home_id}/diagram', {
  query: () => ({ plan: pair.value.plan, ...(station.value ? { source: station.value } : {}) }),
  enabled: () => !!pair.value.plan,
})
const joined = query.view
const diagram = computed(() => joined.value?.diagram)
const targets = computed(() => {
  const found = new Map<string, PossibleFeed[]>()
  for (const feed of diagram.value?.feeds ?? []) found.set(feed.target, [...(found.get(feed.target) ?? []), feed])
  return [...found]
})
/** What some people describe and Imbuto does not plan, each with the reason. */
const NEVER: [string, string][] = [
  [
    'A cord with two plugs.',
    'Its open end is live, and it powers the lines outside. It can kill the person who holds it, or a lineworker.',
  ],
  [
    'Two sources on one wire without listed equipment.',
    'They destroy each other when they aren’t synchronized. Being careful doesn’t replace an interlock.',
  ],
  [
    'A ground connection you make yourself.',
    'A clamp on a pipe, or a separate ground rod, can carry fault current where no one expects it.',
  ],
  [
    'Bypassing a ground-fault breaker, or disconnecting a neutral, because something trips.',
    'It trips because something is wrong. Have an electrician find out what.',
  ],
  ['Cable inside walls that isn’t made for it.', 'Flexible cord heats up and wears where no one sees it.'],
  ['Swapping coils or other parts of a switch.', 'The switch is then no longer the equipment that was listed.'],
  [
    'More solar amps than an input’s rating, as a guess.',
    'Ask the manufacturer for the true maximum. Never exceed the volts.',
  ],
  ['“No permit needed”.', 'Imbuto can’t know that. Ask your authority.'],
]
function save() {
  const svg = drawing.value?.querySelector('svg')
  if (!svg) return
  const link = document.createElement('a')
  link.href = URL.createObjectURL(new Blob([asFile(svg)], { type: 'image/svg+xml' }))
  link.download = `${plan.value?.id ?? 'plan'}-joining.svg`
  link.click()
  URL.revokeObjectURL(link.href)
}
</script>

<template>
  <div class="place joining">
    <SourceHead>
      <el-radio-group v-model="shown" aria-label="Show the live path" class="states">
        <el-radio value="grid">the grid is there</el-radio>
        <el-radio value="outage">in an outage</el-radio>
      </el-radio-group>
      <PrintLink sheet="diagram" />
      <el-button class="btn" @click="save">Save as SVG</el-button>
    </SourceHead>
    <p v-if="query.isError.value" role="alert">{{ query.error.value?.message }}</p>
    <div v-else-if="diagram" class="scroll body" tabindex="0">
      <StationSegments
        v-if="stations.length"
        :stations="[{ source: '', name: 'All of it' }, ...stations]"
        :now="station"
        @pick="chosen = $event"
      />
      <div ref="drawing" class="drawing"><DiagramDrawing v-if="joined" :layout="joined.layout" :state="shown" /></div>
      <p class="soft small key">
        Thick and solid: from the station. Thick and dashed: from the grid. Thin: not live now. Dotted: a data cable.
      </p>
      <div class="columns">
        <section class="feeds">
          <h2>Every way to power a circuit</h2>
          <table>
            <tbody>
              <template v-for="[target, feeds] in targets" :key="target">
                <tr v-for="(f, i) in feeds" :key="i" :class="{ on: f.live.includes(shown) }">
                  <th v-if="i === 0" :rowspan="feeds.length" scope="rowgroup">{{ target }}</th>
                  <td>{{ f.source }}</td>
                  <td>{{ f.position }}</td>
                </tr>
              </template>
            </tbody>
          </table>
          <p v-if="!targets.length" class="soft">Nothing is chosen yet, so nothing is powered.</p>
        </section>
        <section class="notes">
          <h2>How the parts see each other</h2>
          <p v-for="n in diagram.notes" :key="n">{{ n }}</p>
          <p class="soft small">
            This drawing shows the plan and isn’t a wiring plan. Inside the panel, the electrician and your local code
            decide.
          </p>
        </section>
      </div>
      <div class="columns more">
        <section class="feeds">
          <h2>Breakers and fuses</h2>
          <table v-if="diagram.guards?.length" aria-label="Breakers and fuses">
            <tbody>
              <tr v-for="g in diagram.guards" :key="g.place">
                <th scope="row">{{ g.place }}</th>
                <td class="num">
                  <Fig :text="`${number(Math.ceil(g.volts))} V`" /> <Fig :text="`${number(Math.ceil(g.amps))} A`" />
                </td>
                <td>{{ g.direct ? 'DC' : '' }}</td>
                <td class="soft">{{ g.why }}</td>
              </tr>
            </tbody>
          </table>
          <p v-else class="soft">Choose a station to see its settings.</p>
          <h2>Before the day</h2>
          <ul>
            <li v-for="p in diagram.preparations" :key="p">{{ p }}</li>
          </ul>
        </section>
        <section class="notes">
          <h2>Never planned here</h2>
          <ul>
            <li v-for="[what, why] in NEVER" :key="what">
              <b>{{ what }}</b> {{ why }}
            </li>
          </ul>
        </section>
      </div>
    </div>
    <p v-else class="soft" role="status">Drawing…</p>
  </div>
</template>

<style scoped>
.body {
  flex: 1;
}
.drawing {
  padding: 6px;
  border: 1px solid var(--line);
  border-radius: 10px;
}
.states {
  display: flex;
  gap: 14px;
  align-items: center;
}
.key {
  margin: 6px 0 12px;
}
.columns {
  flex: none;
}
.feeds {
  flex: 1.6;
}
.more {
  margin-top: 16px;
}
.more h2:not(:first-child) {
  margin-top: 12px;
}
.more ul {
  margin: 4px 0;
  padding-left: 18px;
}
.num {
  white-space: nowrap;
}
.notes {
  flex: 1;
}
table {
  width: 100%;
  border-collapse: collapse;
}
th,
td {
  padding: 3px 8px 3px 0;
  border-bottom: 1px solid var(--line);
  font-weight: 400;
  text-align: left;
  vertical-align: top;
}
th {
  font-weight: 650;
}
.on td {
  font-weight: 650;
  color: var(--stored-ink);
}
@media (max-width: 760px) {
  .feeds,
  .notes {
    overflow-x: auto;
  }
}
</style>

<script setup lang="ts">
import { escape } from '@/shared/session/patch'
import { computed, defineAsyncComponent, nextTick, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { freshId } from '@/shared/ids'
import type { Load } from '@/shared/api/types'
import { edit, useSession } from '@/shared/session/session'
import { useShortcuts } from '@/shared/shortcuts'
import PanelDrawing from '@/shared/ui/PanelDrawing.vue'
import PanelPicker from '@/shared/ui/fields/PanelPicker.vue'
import PlaceAnswer from '@/shared/ui/PlaceAnswer.vue'
import PutLoadsHere from './components/loads/PutLoadsHere.vue'
import HouseTabs from './HouseTabs.vue'
import CircuitCard from './components/CircuitCard.vue'
import LoadFinder from '@/features/house/components/loads/LoadFinder.vue'
import LoadTable from '@/features/house/components/loads/LoadTable.vue'
import MeterNext from './components/MeterNext.vue'
import ReadingField from './components/ReadingField.vue'
import ReadingList from './components/ReadingList.vue'
import SubPanelCard from './components/SubPanelCard.vue'
import { circuitWatts, figuresById, newCircuit, newLoad, newPanel } from './model'

const PasteLoads = defineAsyncComponent(() => import('@/features/house/components/loads/PasteLoads.vue'))
const LoadDialog = defineAsyncComponent(() => import('@/features/house/components/loads/LoadDialog.vue'))
const ImportDialog = defineAsyncComponent(() => import('./components/ImportDialog.vue'))
const HomeDialog = defineAsyncComponent(() => import('./components/HomeDialog.vue'))

const { home, verdict } = useSession()
const route = useRoute()
const router = useRouter()
const opened = ref<string | null>(null)
/** A load that is not kept before its dialog says so. */
const fresh = ref<Load | null>(null)
const facts = ref(false)
const importing = ref(false)
const pasting = ref(false)
const finder = ref<InstanceType<typeof LoadFinder>>()

const figures = computed(() => figuresById(verdict.value))
const panels = computed(() => Object.values(home.value?.panels ?? {}))
const asked = ref<string | null | undefined>(undefined)
const slots = computed(() => home.value?.service.slots ?? 0)
const all = computed(() =>
  Object.values(home.value?.circuits ?? {}).map((circuit) => ({
    circuit,
    watts: home.value ? circuitWatts(home.value, circuit.id, figures.value) : 0,
  })),
)
const drawn = computed(() => all.value.filter((d) => d.circuit.panel === panel.value))
const loose = computed(() => Object.values(home.value?.loads ?? {}).filter((l) => !l.circuit))

/** A circuit's id, or '' for the loads on no circuit. */
const selected = computed<string>({
  get: () => {
    const asked = route.query.circuit
    if (typeof asked === 'string' && (asked === '' || home.value?.circuits[asked])) return asked
    return all.value.find((d) => d.watts > 0 && d.circuit.poles === 1 && d.circuit.traced)?.circuit.id ?? ''
  },
  set: (circuit) => void router.replace({ query: { ...route.query, circuit } }),
})
const circuit = computed(() => home.value?.circuits[selected.value] ?? null)
/** The panel drawn: the one asked for, else the selected circuit's. */
const panel = computed<string | null>(() => {
  const id = asked.value === undefined ? (circuit.value?.panel ?? null) : asked.value
  return id !== null && home.value?.panels[id] ? id : null
})
const sub = computed(() => (panel.value === null ? null : (home.value?.panels[panel.value] ?? null)))
function pickPanel(id: string | null) {
  asked.value = id
  const first = all.value.find((d) => d.circuit.panel === id)
  if (first) selected.value = first.circuit.id
}
function addPanel() {
  if (!home.value) return
  const id = freshId('sub-panel', panels.value)
  const value = newPanel(id, `Sub-panel${panels.value.length ? ` ${panels.value.length + 1}` : ''}`)
  edit(`New panel: ${value.name}`, [{ doc: 'home', op: 'add', path: `/panels/${escape(id)}`, value }])
  asked.value = id
}
const shown = computed(() =>
  slots.value
    ? Object.values(home.value?.loads ?? {}).filter((l) => (l.circuit ?? '') === selected.value)
    : loose.value,
)

const details = ref<HTMLElement>()
/** On a phone the circuit's card lies below the panel: go there. */
function pick(id: string) {
  selected.value = id
  if (window.innerWidth <= 760) void nextTick(() => details.value?.scrollIntoView({ behavior: 'smooth' }))
}

watch(
  () => route.query.load,
  (id) => {
    if (typeof id === 'string' && home.value?.loads[id]) selected.value = home.value.loads[id].circuit ?? ''
  },
  { immediate: true },
)
watch(
  () => route.query.open,
  (id) => {
    if (typeof id !== 'string' || !home.value?.loads[id]) return
    opened.value = id
    void router.replace({ query: { ...route.query, open: undefined } })
  },
  { immediate: true },
)

function addLoad() {
  if (!home.value) return
  const id = freshId('new load', Object.keys(home.value.loads))
  const value = newLoad(id, slots.value ? selected.value || null : null, circuit.value?.room ?? '')
  fresh.value = value
}

function addCircuit(slot: number) {
  if (!home.value) return
  const id = freshId(`circuit ${slot}`, Object.keys(home.value.circuits))
  const at = panel.value
  edit(`New circuit in slot ${slot}`, [
    { doc: 'home', op: 'add', path: `/circuits/${escape(id)}`, value: newCircuit(id, slot, at) },
  ])
  selected.value = id
}

useShortcuts([
  { keys: 'n', what: 'new load', run: addLoad },
  { keys: '/', what: 'find a load', run: () => finder.value?.focus() },
])
</script>

<template>
  <div v-if="home" class="place">
    <header>
      <div>
        <h1>House</h1>
        <HouseTabs />
        <PlaceAnswer place="house" />
      </div>
      <div class="tools">
        <LoadFinder ref="finder" @found="(l) => (selected = l.circuit ?? '')" />
        <el-button class="btn" @click="importing = true">Import meter data</el-button>
        <el-button class="btn" @click="facts = true">Home facts</el-button>
        <el-button class="btn" @click="pasting = true">Add a list</el-button>
        <el-button class="btn" @click="addLoad">New load <kbd>n</kbd></el-button>
      </div>
    </header>
    <div class="columns wraps-late">
      <section v-if="slots" class="left scroll">
        <PanelPicker :panels="panels" :now="panel" @pick="pickPanel" />
        <PanelDrawing
          :slots="sub ? sub.slots : slots"
          :drawn="drawn"
          :selected="selected"
          empty
          :feeders="Object.values(home.panels).filter((p) => p.behind === panel)"
          @panel="pickPanel($event)"
          @select="pick($event)"
          @add="addCircuit"
        />
        <el-button v-if="loose.length" class="btn loose" :class="{ strong: selected === '' }" @click="selected = ''">
          On no circuit: {{ loose.length }} {{ loose.length === 1 ? 'load' : 'loads' }}
        </el-button>
        <el-button class="link small more-panels" @click="addPanel">Add a panel behind a feeder</el-button>
      </section>
      <section ref="details" class="right scroll">
        <SubPanelCard v-if="sub" :key="sub.id" :panel="sub" @gone="asked = undefined" />
        <CircuitCard v-if="circuit" :key="circuit.id" :circuit="circuit" />
        <h2 v-else>{{ slots ? 'On no circuit' : 'Loads' }}</h2>
        <LoadTable v-if="shown.length" :loads="shown" :figures="figures" @open="opened = $event" />
        <p v-else class="soft">
          {{ circuit && !circuit.traced ? 'Not traced yet, so the loads on it aren’t known.' : 'No load here yet.' }}
          <el-button class="link" @click="addLoad">Add a load</el-button>
        </p>
        <PutLoadsHere v-if="circuit" :key="`put ${circuit.id}`" :circuit="circuit" />
        <ReadingField v-if="Object.keys(home.loads).length" :loads="shown" />
        <ReadingList :loads="shown" :circuit="selected" />
        <MeterNext v-if="verdict?.measures.length" :verdict="verdict" @open="(id) => (opened = id)" />
      </section>
    </div>
    <LoadDialog v-if="fresh" :id="fresh.id" :key="fresh.id" :fresh="fresh" @close="fresh = null" />
    <LoadDialog v-if="opened !== null && home.loads[opened]" :id="opened" :key="opened" @close="opened = null" />
    <PasteLoads
      v-if="pasting"
      :circuit="slots ? selected || null : null"
      :room="circuit?.room ?? ''"
      @close="pasting = false"
    />
    <ImportDialog v-if="importing" @close="importing = false" />
    <HomeDialog v-if="facts" @close="facts = false" />
  </div>
</template>

<style scoped>
.left {
  flex: 0 0 450px;
  display: flex;
  flex-direction: column;
}
.left :deep(.panel) {
  flex: 1 0 auto;
}
.loose {
  margin-top: 8px;
}
.more-panels {
  margin-top: 6px;
  text-align: left;
}
.right {
  flex: 1;
  min-width: 0;
  padding: 2px 4px;
}
@media (max-width: 1100px) {
  .left {
    flex-basis: 390px;
  }
}
@media (min-width: 761px) and (max-width: 1000px) {
  .left,
  .right {
    flex: 1 0 100%;
  }
}
@media (max-width: 760px) {
  .left {
    flex-basis: auto;
  }
}
</style>

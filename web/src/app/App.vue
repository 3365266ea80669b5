<script setup lang="ts">
import { useMediaQuery } from '@vueuse/core'
import { computed, onMounted, onUnmounted, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { gettingReady } from '@/shared/api/client'
import { choose, open, redo, stepOutage, stepPlan, undo, useSession } from '@/shared/session/session'
import { PLACE_NAMES } from '@/shared/pageNames'
import { handleKey, useShortcuts } from '@/shared/shortcuts'
import ConflictDialog from './ConflictDialog.vue'
import FunnelRail from './FunnelRail.vue'
import NoticeStrip from '@/app/bar/NoticeStrip.vue'
import { PLACES, TITLES } from './router'
import HelpPanel from './HelpPanel.vue'
import { keepPairInAddress } from './pairInAddress'
import ShortcutSheet from './ShortcutSheet.vue'
import OutageFoot from '@/app/bar/OutageFoot.vue'
import VerdictBar from '@/app/bar/VerdictBar.vue'

const route = useRoute()
const router = useRouter()
const { state, home, plan, outage, pair } = useSession()
const sheet = ref(false)
const help = ref(false)
const desk = ref<HTMLElement>()
const inHome = computed(() => typeof route.params.home === 'string')
const missing = ref('')
const astray = ref('')
/** On a phone in an outage the page is what is on now, and its foot the places that matter then. */
const small = useMediaQuery('(max-width: 760px)')
const inOutage = computed(() => small.value && !!home.value?.live)

watch(
  () => route.params.home,
  async (home) => {
    missing.value = astray.value = ''
    if (typeof home !== 'string') return
    const asked = [one(route.query.plan), one(route.query.outage)] as const
    try {
      await open(home, ...asked)
      notThere(...asked)
    } catch (error) {
      if (route.params.home !== home) return // Another home was opened meanwhile.
      missing.value = error instanceof Error ? error.message : String(error)
    }
  },
  { immediate: true },
)

/** An address may name a plan or an outage that was removed: say so, and which is shown instead. */
function notThere(askedPlan?: string, askedOutage?: string) {
  const said = [
    askedPlan && askedPlan !== pair.value.plan ? `This home has no plan “${askedPlan}”.` : '',
    askedOutage && askedOutage !== pair.value.outage ? `This home has no outage “${askedOutage}”.` : '',
  ].filter(Boolean)
  if (said.length) astray.value = `${said.join(' ')} You see “${plan.value?.name}” in “${outage.value?.name}” instead.`
}

function one(value: unknown): string | undefined {
  return typeof value === 'string' ? value : undefined
}

keepPairInAddress(router, pair)
watch(
  () => [route.query.plan, route.query.outage],
  ([plan, outage]) => {
    const next = { plan: one(plan), outage: one(outage) }
    if (!state.value || !next.plan || !next.outage) return
    if (next.plan !== pair.value.plan || next.outage !== pair.value.outage) void choose(next as typeof pair.value)
  },
)

watch(
  [() => route.name, () => home.value?.name],
  ([name, of]) => {
    const page = TITLES[String(name)] ?? ''
    document.title = [page, inHome.value ? of : '', 'Imbuto'].filter(Boolean).join(' · ')
  },
  { immediate: true },
)

useShortcuts([
  ...PLACES.map((place, i) => ({
    keys: String(i + 1),
    what: `go to ${PLACE_NAMES[place]}`,
    run: () => void (inHome.value && router.push({ name: place, params: route.params, query: route.query })),
  })),
  { keys: ',', what: 'previous outage', run: () => void stepOutage(-1) },
  { keys: '.', what: 'next outage', run: () => void stepOutage(1) },
  { keys: '<', what: 'previous plan', run: () => void stepPlan(-1) },
  { keys: '>', what: 'next plan', run: () => void stepPlan(1) },
  { keys: 'Ctrl+z', what: 'undo', run: () => void undo() },
  { keys: 'Ctrl+Shift+z', what: 'redo', run: () => void redo() },
  { keys: 'F1', what: 'help', run: () => (help.value = !help.value) },
  { keys: '?', what: 'this sheet', run: () => (sheet.value = !sheet.value) },
])

onMounted(() => window.addEventListener('keydown', handleKey))
onUnmounted(() => window.removeEventListener('keydown', handleKey))
</script>

<template>
  <p v-if="gettingReady" class="getting-ready" role="status">{{ gettingReady }}</p>
  <a v-if="inHome" class="skip" href="#desk" @click.prevent="desk?.focus()">Skip to the page</a>
  <div v-if="inHome" class="shell" :class="{ bare: route.meta.bare }">
    <FunnelRail
      v-if="!route.meta.bare && !(inOutage && route.name === 'live')"
      class="rail"
      @sheet="sheet = true"
      @help="help = true"
    />
    <main id="desk" ref="desk" class="desk" tabindex="-1">
      <NoticeStrip />
      <p v-if="astray" class="astray" role="alert">
        {{ astray }} <el-button class="link" @click="astray = ''">Close</el-button>
      </p>
      <div v-if="missing" class="place">
        <h1>Not here</h1>
        <p>{{ missing }}</p>
        <p><RouterLink class="btn" to="/">To the homes</RouterLink></p>
      </div>
      <template v-else-if="state">
        <p class="print-only">{{ home?.name }} · {{ plan?.name }} · {{ outage?.name }}</p>
        <RouterView :key="state.id" />
      </template>
      <p v-else class="place soft">Opening the home…</p>
    </main>
    <OutageFoot v-if="inOutage && !route.meta.bare" class="bar" />
    <VerdictBar v-else-if="!route.meta.bare" class="bar" />
    <ConflictDialog />
  </div>
  <RouterView v-else />
  <ShortcutSheet v-model="sheet" />
  <HelpPanel v-model="help" />
</template>

<style scoped>
.skip {
  position: fixed;
  z-index: 3000;
  top: -60px;
  left: 8px;
  padding: 10px 16px;
  border-radius: 0 0 8px 8px;
  background: var(--sheet);
  color: var(--ink);
}
.skip:focus {
  top: 0;
}
.desk:focus {
  outline: none;
}
.astray {
  margin: 0;
  padding: 8px 18px;
  border-left: 6px solid var(--dark);
  background: var(--sheet);
}
.getting-ready {
  position: fixed;
  z-index: 3000;
  top: 10px;
  left: 50%;
  max-width: min(520px, 92vw);
  margin: 0;
  padding: 8px 14px;
  border-left: 5px solid var(--lit, var(--line-strong));
  border-radius: 8px;
  background: var(--sheet);
  color: var(--ink);
  box-shadow: 0 4px 18px rgb(0 0 0 / 25%);
  transform: translateX(-50%);
}
.shell {
  display: grid;
  grid-template: minmax(0, 1fr) auto / 232px minmax(0, 1fr);
  height: 100%;
}
.bare {
  display: block;
  overflow: auto;
}
.bare .desk {
  overflow: visible;
}
.desk {
  position: relative;
  display: flex;
  flex-direction: column;
  min-width: 0;
  min-height: 0;
  overflow: hidden;
}
.desk > :deep(.place) {
  flex: 1;
  height: auto;
}
.bar {
  grid-column: 1 / -1;
}
@media (max-width: 760px) {
  .shell {
    display: flex;
    flex-direction: column;
    height: auto;
    min-height: 100%;
    padding-bottom: 44px;
  }
  .desk {
    overflow: visible;
    flex: 1;
  }
  .bar {
    position: fixed;
    inset: auto 0 0;
    z-index: 20;
  }
}
</style>

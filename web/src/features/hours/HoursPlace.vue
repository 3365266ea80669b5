<script setup lang="ts">
import { computed, defineAsyncComponent, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { useHomeQuery } from '@/shared/session/homeQuery'
import { useSession } from '@/shared/session/session'
import StationSegments from '@/shared/ui/StationSegments.vue'
import CircuitStrips from './components/CircuitStrips.vue'
import HandCheck from './components/HandCheck.vue'
import FoodList from './components/FoodList.vue'
import MomentBar from './components/MomentBar.vue'
import MoveTable from './components/MoveTable.vue'
import MadeOf from './components/MadeOf.vue'
import WaterFall from './components/WaterFall.vue'
import PlaceAnswer from '@/shared/ui/PlaceAnswer.vue'
import PrintLink from '@/shared/ui/PrintLink.vue'

// The chart library is large: it comes with this place, not with the first load.
const StepTable = defineAsyncComponent(() => import('./components/StepTable.vue'))
const ChargeCurve = defineAsyncComponent(() => import('./components/ChargeCurve.vue'))

const { pair, verdict } = useSession()
const route = useRoute()
/** Which of several stations is shown: the first to end, unless another is picked. */
const stations = computed(() => verdict.value?.parts ?? [])
const picked = ref('')
const named = computed(() => (stations.value.some((s) => s.source === picked.value) ? picked.value : ''))
const run = useHomeQuery('/api/homes/{home_id}/run', {
  query: () => (named.value ? { ...pair.value, source: named.value } : pair.value),
  enabled: () => !!pair.value.plan && !!pair.value.outage,
})
const broken = computed(() => !!verdict.value?.neck && !verdict.value.fits)
const at = ref(0)
watch(
  () => run.data.value?.shown_h,
  (shown) => {
    if (shown !== undefined && at.value > shown) at.value = shown
  },
)
const steps = ref(false)
</script>

<template>
  <div class="place">
    <header>
      <div>
        <h1>How long</h1>
        <PlaceAnswer place="hours" />
      </div>
      <div class="tools">
        <el-button v-if="run.data.value" class="btn" @click="steps = true">Every step</el-button>
        <PrintLink sheet="hours" />
      </div>
    </header>
    <p v-if="run.isError.value" role="alert">The hours didn’t load: {{ run.error.value?.message }}</p>
    <p v-else-if="run.isPending.value" class="soft" role="status">Calculating…</p>
    <div v-else-if="!run.data.value" class="none">
      <h2>{{ verdict?.state === 'no_station' ? 'No station yet' : 'This plan powers nothing yet' }}</h2>
      <p v-if="verdict?.state === 'no_station'">
        Choose a station to see hours.
        <RouterLink class="btn" :to="{ name: 'source', params: route.params, query: route.query }">Pick one</RouterLink>
      </p>
      <p v-else-if="verdict?.state === 'no_loads'">
        Add one load to see hours.
        <RouterLink class="btn" :to="{ name: 'house', params: route.params, query: route.query }"
          >Add a load</RouterLink
        >
      </p>
      <p v-else>
        Choose what to power.
        <RouterLink class="btn" :to="{ name: 'chosen', params: route.params, query: route.query }">Choose</RouterLink>
      </p>
    </div>
    <div v-else class="run scroll">
      <p v-if="broken" role="alert" class="never">
        This plan doesn’t work while a limit is broken: {{ verdict?.neck?.sentence }} Below are the hours from the
        stored energy alone.
      </p>
      <StationSegments :stations="stations" :now="run.data.value.source" @pick="picked = $event" />
      <ChargeCurve :run="run.data.value" />
      <CircuitStrips :run="run.data.value" />
      <MomentBar v-model="at" :run="run.data.value" />
      <WaterFall :drops="run.data.value.waterfall" />
      <MadeOf :run="run.data.value" />
      <FoodList :food="run.data.value.food" />
      <HandCheck :run="run.data.value" />
      <MoveTable v-if="verdict" :verdict="verdict" />
      <StepTable v-if="steps" v-model="steps" :source="run.data.value.source" />
    </div>
  </div>
</template>

<style scoped>
.run {
  flex: 1;
  display: flex;
  flex-direction: column;
  gap: 10px;
}
.run > :deep(*) {
  flex: none;
}
.never {
  margin: 0;
  padding: 7px 12px;
  border-left: 6px solid var(--dark);
  background: var(--sheet);
}
</style>

<script setup lang="ts">
import { computed } from 'vue'
import SourceHead from '@/features/source/SourceHead.vue'
import type { Engine } from '@/shared/api/types'
import { useHomeQuery } from '@/shared/session/homeQuery'
import { edit, useSession } from '@/shared/session/session'
import EngineForm from './components/EngineForm.vue'
import FillWays from './components/FillWays.vue'
import SchoolStrips from './components/SchoolStrips.vue'

/** The generator: which, how it is run, what both schools of running it burn; and every way to fill the station. */
const { state, home, plan, pair } = useSession()
const query = useHomeQuery('/api/homes/{home_id}/fuel', {
  query: pair,
  enabled: () => !!pair.value.plan && !!pair.value.outage,
})
const view = query.view
const generators = computed(() => view.value?.generators ?? [])
const engine = computed(() => plan.value?.engine ?? null)
const outage = computed(() => state.value?.outages.find((o) => o.id === pair.value.outage))

function set(value: Engine | null, label: string) {
  if (plan.value) edit(label, [{ doc: plan.value.id, op: 'replace', path: '/engine', value }])
}
function add() {
  const made = generators.value[0]
  const source = Object.keys(plan.value?.sources ?? {})[0]
  if (!made || !source) return
  const fresh: Engine = {
    generator: made.id,
    source,
    also: [],
    school: 'fill',
    stock_l: 20,
    start_at: 0.5,
    stop_at: 0.9,
    windows: [],
    charges: true,
    owned: false,
  }
  set(fresh, `Generator: ${made.name}`)
}
const change = (part: Partial<Engine>, label: string) => engine.value && set({ ...engine.value, ...part }, label)
</script>

<template>
  <div v-if="home && plan" class="place">
    <SourceHead>
      <el-button v-if="engine" class="btn" @click="set(null, 'No generator')">Remove the generator</el-button>
    </SourceHead>
    <p v-if="query.isError.value" role="alert">{{ query.error.value?.message }}</p>
    <p v-else-if="!view" class="soft" role="status">Calculating…</p>
    <div v-else class="columns">
      <section class="left scroll">
        <EngineForm
          v-if="engine"
          :engine="engine"
          :plan="plan"
          :generators="generators"
          :sources="plan.sources"
          @change="change"
        />
        <div v-else class="none">
          <h2>No generator</h2>
          <p v-if="Object.keys(plan.sources).length">
            A generator that charges for an hour or two per day stretches a small battery over a week.
          </p>
          <p v-else>A generator charges a station, so choose a station first.</p>
          <el-button
            class="btn strong"
            :disabled="!generators.length || !Object.keys(plan.sources).length"
            @click="add"
          >
            Add a generator
          </el-button>
        </div>
      </section>
      <section class="right scroll" tabindex="0">
        <SchoolStrips v-if="engine && outage" :view="view" :engine="engine" :hours="outage.hours" @change="change" />
        <FillWays :view="view" />
      </section>
    </div>
  </div>
</template>

<style scoped>
.left {
  flex: 0 0 276px;
}
.right {
  flex: 1;
  min-width: 0;
}
.none {
  display: grid;
  gap: 8px;
  justify-items: start;
}
.none p {
  margin: 0;
}
@media (max-width: 760px) {
  .left {
    flex: none;
  }
}
</style>

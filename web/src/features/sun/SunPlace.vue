<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import SourceHead from '@/features/source/SourceHead.vue'
import type { Op } from '@/shared/api/types'
import { freshId } from '@/shared/ids'
import { escape } from '@/shared/session/patch'
import { useHomeQuery } from '@/shared/session/homeQuery'
import { edit, useSession } from '@/shared/session/session'
import ArrayForm from './components/ArrayForm.vue'
import ArrayFound from './components/ArrayFound.vue'
import MountTable from './components/MountTable.vue'
import SkyTable from './components/SkyTable.vue'
import YearBars from './components/YearBars.vue'

/** Solar arrays: what stands where, how it may be wired for its input, and what it brings through the year. */
const { home, plan, pair } = useSession()
const route = useRoute()
const query = useHomeQuery('/api/homes/{home_id}/sun', {
  query: pair,
  enabled: () => !!pair.value.plan && !!pair.value.outage,
})
const view = query.view
const panels = computed(() => view.value?.panels ?? [])
const arrays = computed(() => Object.values(plan.value?.arrays ?? {}))
const chosen = ref('')
watch(
  arrays,
  (list) => {
    if (!list.some((a) => a.id === chosen.value)) chosen.value = list[0]?.id ?? ''
  },
  { immediate: true },
)
const array = computed(() => plan.value?.arrays[chosen.value])
const found = computed(() => view.value?.arrays.find((a) => a.id === chosen.value))
const free = computed(() => {
  const used = new Set(arrays.value.map((a) => a.input))
  for (let i = 1; i <= (view.value?.inputs ?? 0); i++) if (!used.has(i)) return i
  return 0
})

function add() {
  const p = plan.value
  const fewest = view.value?.fewest ?? {}
  const panel = panels.value.find((x) => fewest[x.id]) ?? panels.value[0]
  if (!p || !panel) return
  const id = freshId('array', arrays.value)
  const south = (home.value?.site.latitude ?? 45) >= 0
  const value = {
    id,
    name: arrays.value.length ? `Array ${arrays.value.length + 1}` : 'Array',
    panel: panel.id,
    series: fewest[panel.id] ?? 1,
    parallel: 1,
    tilt: 30,
    azimuth: south ? 180 : 0,
    source: Object.keys(p.sources)[0] ?? 'main',
    input: free.value,
    ac: false,
    shade: [],
    cord: null,
    owned: false,
  }
  edit(`New array: ${value.name}`, [{ doc: p.id, op: 'add', path: `/arrays/${escape(id)}`, value }])
  chosen.value = id
}
function remove() {
  const p = plan.value
  const a = array.value
  if (p && a) edit(`Array removed: ${a.name}`, [{ doc: p.id, op: 'remove', path: `/arrays/${escape(a.id)}` }])
}
function change(ops: Op[], label: string) {
  edit(label, ops)
}
</script>

<template>
  <div v-if="home && plan" class="place">
    <SourceHead>
      <el-button class="btn" :disabled="!free" :title="free ? '' : 'Every solar input is in use.'" @click="add">
        Add an array
      </el-button>
    </SourceHead>
    <p v-if="query.isError.value" role="alert">{{ query.error.value?.message }}</p>
    <p v-else-if="!view" class="soft" role="status">Calculating solar power…</p>
    <template v-else>
      <p class="soft intro">{{ view.input_text }}</p>
      <div v-if="!arrays.length" class="none">
        <h2>No panels yet</h2>
        <p v-if="view.inputs">Add an array to see how much solar power it supplies in each outage and month.</p>
        <p v-else>
          <RouterLink class="btn" :to="{ name: 'source', params: route.params, query: route.query }"
            >Choose a station with a solar input</RouterLink
          >
        </p>
      </div>
      <div v-else class="columns">
        <section class="left scroll">
          <nav v-if="arrays.length > 1" class="segments" aria-label="Arrays">
            <el-button v-for="a in arrays" :key="a.id" :aria-pressed="a.id === chosen" @click="chosen = a.id">
              {{ a.name }}
            </el-button>
          </nav>
          <ArrayForm
            v-if="array"
            :key="array.id"
            :array="array"
            :plan="plan"
            :panels="panels"
            :inputs="view.inputs"
            :metric="home.service.volts === 230"
            @change="change"
            @remove="remove"
          />
        </section>
        <section class="right scroll">
          <ArrayFound v-if="array && found" :array="array" :found="found" :plan="plan" @change="change" />
          <YearBars :view="view" :home="home" @change="change" />
          <SkyTable :view="view" :climate="home.site.climate.replace('_', ' ')" @change="change" />
          <MountTable />
        </section>
      </div>
    </template>
  </div>
</template>

<style scoped>
.intro {
  margin: -6px 0 10px;
}
.left {
  flex: 0 0 272px;
}
.right {
  flex: 1;
  min-width: 0;
}
@media (max-width: 760px) {
  .left {
    flex: none;
  }
}
</style>

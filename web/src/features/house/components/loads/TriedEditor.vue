<script setup lang="ts">
import { useSession } from '@/shared/session/session'
import { homeToday } from '@/shared/units/homeTime'
import { computed, ref, watch } from 'vue'
import { useCatalogue } from '@/features/equipment/useCatalogue'
import type { Load } from '@/shared/api/types'
import { parseNumber } from '@/shared/units/format'
import { inUse, measured, parseMeasure, unitOf } from '@/shared/units/measures'
import Choice from '@/shared/ui/fields/Choice.vue'

/** Starts that were tried for real and held; each settles *Hardest start* for its station and milder conditions. */
type Tried = Load['tried'][number]
const tried = defineModel<Load['tried']>({ required: true })
const catalogue = useCatalogue()
const stations = computed(() => Object.values(catalogue.data.value?.catalogue.stations ?? {}))
const named = (id: string) => stations.value.find((s) => s.id === id)?.name ?? id

const station = ref('')
const { home } = useSession()
const on = ref(homeToday(home.value?.site.time_zone))
const charge = ref('100')
const cells = ref(String(inUse('temperature', 20)))
const others = ref('0')
const modules = ref('0')
const problem = ref('')
watch(stations, (list) => (station.value ||= list[0]?.id ?? ''), { immediate: true })

/** The new entry, or what is wrong with the fields. */
function read(): Tried | string {
  const share = parseNumber(charge.value).value
  const cell = parseMeasure('temperature', cells.value)
  const cell_c = cell.ok ? cell.value : null
  const others_va = parseNumber(others.value).value
  if (!station.value) return 'Choose the station of the test.'
  if (!/^\d{4}-\d\d-\d\d$/.test(on.value)) return 'Enter the day of the test.'
  if (share === null || share < 0 || share > 100) return 'Charge: 0 to 100%.'
  if (cell_c === null || cell_c < -40 || cell_c > 60)
    return `Cells: ${measured('temperature', -40)} to ${measured('temperature', 60)}.`
  if (others_va === null || others_va < 0) return 'Other loads: enter 0 VA or more.'
  const count = parseNumber(modules.value).value
  if (count === null || !Number.isInteger(count) || count < 0 || count > 64) return 'Modules: enter a whole number.'
  return { station: station.value, on: on.value, charge: share / 100, cell_c, others_va, modules: count, leg: '' }
}
function add() {
  const made = read()
  problem.value = typeof made === 'string' ? made : ''
  if (typeof made !== 'string') tried.value = [...tried.value, made]
}
</script>

<template>
  <div>
    <div v-for="(t, i) in tried" :key="i" class="one">
      <span
        >{{ t.on }}: held on <b>{{ named(t.station) }}</b> at {{ Math.round(100 * t.charge) }}%, cells
        {{ measured('temperature', t.cell_c) }}, with {{ t.others_va }} VA running<template v-if="t.modules"
          >, {{ t.modules }} modules</template
        ><template v-if="t.leg">, leg {{ t.leg }}</template></span
      >
      <el-button class="link small soft" @click="tried = tried.filter((_, j) => j !== i)">remove</el-button>
    </div>
    <div class="one">
      <Choice v-model="station" label="Tried on">
        <el-option v-for="s in stations" :key="s.id" :value="s.id" :label="s.name" />
      </Choice>
      <el-date-picker
        v-model="on"
        :automatic-dropdown="false"
        type="date"
        value-format="YYYY-MM-DD"
        aria-label="Day it was tried"
      />
      <label>charge <el-input v-model="charge" inputmode="decimal" class="short" /> %</label>
      <label>cells <el-input v-model="cells" inputmode="decimal" class="short" /> {{ unitOf('temperature') }}</label>
      <label>modules <el-input v-model="modules" inputmode="numeric" class="short" /></label>
      <label>beside <el-input v-model="others" inputmode="decimal" class="short" /> VA</label>
      <el-button class="btn tiny" @click="add">Start passed</el-button>
    </div>
    <p v-if="problem" role="alert" class="small">{{ problem }}</p>
    <p class="soft small">
      Enter only a start that someone saw on that station, with this much else running and cells this cold.
    </p>
  </div>
</template>

<style scoped>
.one {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 10px;
  align-items: center;
  padding: 2px 0;
}
p {
  margin: 2px 0;
}
.el-input,
.choice {
  max-width: 150px;
}
.short {
  width: 56px;
}
</style>

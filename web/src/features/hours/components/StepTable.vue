<script setup lang="ts">
import { computed } from 'vue'
import { useHomeQuery } from '@/shared/session/homeQuery'
import { useSession } from '@/shared/session/session'
import { clock } from '@/shared/units/format'

/** Every step of the run; only those in sight are drawn. */
const props = defineProps<{ source: string }>()
const open = defineModel<boolean>({ required: true })
const { state, pair } = useSession()
const params = computed(() => ({
  path: { home_id: state.value?.id ?? '' },
  query: { ...pair.value, source: props.source },
}))
const query = useHomeQuery('/api/homes/{home_id}/run/steps', {
  query: () => params.value.query,
  enabled: open,
  keep: false,
})
const file = computed(() => {
  const { path, query: q } = params.value
  return `/api/homes/${encodeURIComponent(path.home_id)}/run/steps.csv?${new URLSearchParams(q).toString()}`
})
const figure = (value: number | undefined, digits = 0) => (value ?? 0).toFixed(digits)
const rows = computed(() => {
  const s = query.data.value
  if (!s) return []
  return s.clock.map((at, i) => ({
    id: i,
    at: clock(at.replace(' ', 'T')),
    charge: `${figure(100 * (s.charge[i] ?? 0), 1)}%`,
    asked: figure(s.asked_w[i]),
    served: figure(s.served_w[i]),
    sun: figure(s.sun_w[i]),
    engine: s.engine[i] ? `${figure(s.fuel_l[i], 2)} l` : '',
    dark: (s.dark[i] ?? 0) > 0.999 ? 'dark' : (s.dark[i] ?? 0) > 0 ? 'in part' : '',
  }))
})
const COLUMNS = [
  { key: 'at', title: 'Clock', width: 120 },
  { key: 'charge', title: 'Charge', width: 90 },
  { key: 'asked', title: 'Asked, W', width: 90 },
  { key: 'served', title: 'Served, W', width: 90 },
  { key: 'sun', title: 'Sun, W', width: 80 },
  { key: 'engine', title: 'Generator', width: 90 },
  { key: 'dark', title: 'Dark', width: 80 },
].map((c) => ({ ...c, dataKey: c.key }))
</script>

<template>
  <el-dialog v-model="open" title="Every step" width="720">
    <p class="soft">
      Average power in each five minutes, and the charge at the start of it.
      <a class="btn tiny" :href="file" download>Save as CSV</a>
    </p>
    <p v-if="query.isError.value" role="alert">{{ query.error.value?.message }}</p>
    <p v-else-if="query.isPending.value" role="status">Calculating…</p>
    <el-table-v2
      v-else
      :columns="COLUMNS"
      :data="rows"
      :width="660"
      :height="440"
      :row-height="28"
      :header-height="32"
    />
  </el-dialog>
</template>

<script setup lang="ts">
import { ref } from 'vue'
import { useHomeQuery } from '@/shared/session/homeQuery'
import { useSession } from '@/shared/session/session'
import { hoursText, money, number } from '@/shared/units/format'

/** What each circuit left in its panel would cost in an outage and bring in a year. Asked for only once it is opened. */
const { pair } = useSession()
const open = ref(false)
const query = useHomeQuery('/api/homes/{home_id}/moving', {
  query: pair,
  enabled: () => open.value && !!pair.value.plan,
})
const view = query.view
function hours(costs: number | null): string {
  if (costs == null) return 'not known'
  return costs < 0.05 ? 'none' : hoursText(costs)
}
</script>

<template>
  <details @toggle="open = ($event.target as HTMLDetailsElement).open">
    <summary>Which circuits are worth moving?</summary>
    <p v-if="query.isError.value" role="alert">{{ query.error.value?.message }}</p>
    <p v-else-if="!view" class="soft" role="status">Running the year with each circuit…</p>
    <p v-else-if="view.says">{{ view.says }}</p>
    <table v-else class="sums">
      <caption>
        Circuits that stay in the panel, each moved to the station by itself
      </caption>
      <thead>
        <tr>
          <th>Circuit</th>
          <th>Mean use (W)</th>
          <th>Hours it costs in the outage</th>
          <th>Saved more per year</th>
          <th>Fits</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="r in view.rows" :key="r.circuit">
          <td>{{ r.name }}</td>
          <td>{{ number(r.mean_w) }}</td>
          <td>{{ hours(r.costs_h) }}</td>
          <td>{{ r.adds == null ? 'no tariff' : money(r.adds, view.currency) }}</td>
          <td class="why">{{ r.why_not ? `No: ${r.why_not}` : 'Yes' }}</td>
        </tr>
      </tbody>
    </table>
  </details>
</template>

<style scoped>
summary {
  min-height: 28px;
  cursor: pointer;
}
.why {
  max-width: 260px;
  text-align: left;
  white-space: normal;
}
</style>

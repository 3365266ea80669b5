<script setup lang="ts">
import { ref } from 'vue'
import { useHomeQuery } from '@/shared/session/homeQuery'
import { useSession } from '@/shared/session/session'
import { clock, money, number } from '@/shared/units/format'
import Fig from '@/shared/ui/Fig.vue'

/** A meter's year through the plan: what it would have saved, and which real outages it would have carried. */
const { pair } = useSession()
const series = ref('')
const meters = useHomeQuery('/api/homes/{home_id}/meters')
const replay = useHomeQuery('/api/homes/{home_id}/replay', {
  query: () => ({ plan: pair.value.plan, series: series.value }),
  enabled: () => !!series.value,
  keep: false,
  retry: false,
})
const view = replay.view
</script>

<template>
  <details>
    <summary>Replay a year of the utility’s data</summary>
    <p v-if="!meters.data.value?.length" class="soft">
      No whole-house meter data yet. Import it under House > Import meter data.
    </p>
    <el-select v-else v-model="series" aria-label="Meter to replay" placeholder="which meter">
      <el-option
        v-for="m in meters.data.value"
        :key="m.id"
        :value="m.id"
        :label="`${m.name}, ${m.begins.slice(0, 10)} to ${m.ends.slice(0, 10)}`"
      />
    </el-select>
    <p v-if="replay.isError.value && series" role="alert">{{ replay.error.value?.message }}</p>
    <p v-else-if="series && !view" role="status" class="soft">Running the year…</p>
    <template v-else-if="view">
      <p>
        <Fig :text="`${number(view.days)} days`" />, <Fig :text="`${number(view.house_kwh)} kWh`" />:
        <b v-if="view.saved != null">it would have saved {{ money(view.saved, view.currency) }}</b
        ><b v-else>add a tariff to see money</b>.
      </p>
      <p v-for="s in view.sums" :key="s" class="small">{{ s }}</p>
      <p v-if="view.note" class="small">{{ view.note }}</p>
      <ul v-if="view.outages.length">
        <li v-for="o in view.outages" :key="o.at">{{ o.at.slice(0, 10) }} {{ clock(o.at) }}: {{ o.says }}.</li>
      </ul>
      <p v-else class="soft">The meter saw no outage of half an hour or more.</p>
    </template>
  </details>
</template>

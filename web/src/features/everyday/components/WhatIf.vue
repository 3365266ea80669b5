<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useHomeQuery } from '@/shared/session/homeQuery'
import { useSession } from '@/shared/session/session'
import { kwh, money, number } from '@/shared/units/format'
import Fig from '@/shared/ui/Fig.vue'

/** Metered days with another plan, or with more of one. Asked for only once it is opened. */
const props = defineProps<{ first: string; last: string }>()
const { state, pair } = useSession()
const open = ref(false)
const plans = computed(() => Object.values(state.value?.plans ?? {}))
const plan = ref('')
const metered = ref('')
const modules = ref(0)
const units = ref(0)
const panels = ref(1)
watch(
  pair,
  (now) => {
    plan.value ||= now.plan
    metered.value ||= now.plan
  },
  { immediate: true },
)
const query = useHomeQuery('/api/homes/{home_id}/what-if', {
  query: () => ({
    plan: plan.value,
    metered_with: metered.value,
    first: props.first,
    last: props.last,
    modules: modules.value,
    units: units.value,
    panels: panels.value,
  }),
  enabled: () => open.value && !!plan.value && !!metered.value,
  retry: false,
})
const view = query.view
const m = (v: number) => money(v, view.value?.currency ?? 'USD')
</script>

<template>
  <details @toggle="open = ($event.target as HTMLDetailsElement).open">
    <summary>What if, on my days?</summary>
    <form class="questions-row fields" @submit.prevent>
      <label>
        Metered with
        <el-select v-model="metered" aria-label="Plan these days were metered with">
          <el-option v-for="p in plans" :key="p.id" :value="p.id" :label="p.name" />
        </el-select>
      </label>
      <label>
        Run with
        <el-select v-model="plan" aria-label="Plan to run these days with">
          <el-option v-for="p in plans" :key="p.id" :value="p.id" :label="p.name" />
        </el-select>
      </label>
      <label>More modules<el-input-number v-model="modules" :min="0" :max="20" aria-label="More modules" /></label>
      <label>More units<el-input-number v-model="units" :min="0" :max="5" aria-label="More units" /></label>
      <label>
        Panels (times as many)<el-input-number
          v-model="panels"
          :min="0"
          :max="10"
          :step="0.25"
          aria-label="Panels (times as many)"
        />
      </label>
    </form>
    <p v-if="query.isError.value" role="alert">{{ query.error.value?.message }}</p>
    <p v-else-if="!view" class="soft" role="status">Running your days…</p>
    <template v-else>
      <p data-test="what-if">
        With {{ view.plan }}, you would have bought <Fig :text="kwh(1000 * view.bought)" /> in
        <Fig :text="`${number(view.days, 1)} days`" />, instead of <Fig :text="kwh(1000 * view.bought_then)" />.
        <template v-if="view.cost != null && view.cost_then != null">
          The bill would have been <Fig :text="m(view.cost)" />, instead of <Fig :text="m(view.cost_then)" />.
        </template>
      </p>
      <p v-if="view.unserved > 0.05">
        <Fig :text="kwh(1000 * view.unserved)" /> wouldn’t have been served: those loads would have been off.
      </p>
      <p v-for="note in view.notes" :key="note" class="soft small">{{ note }}</p>
    </template>
  </details>
</template>

<style scoped>
summary {
  min-height: 28px;
  cursor: pointer;
}
p {
  margin: 4px 0;
}
</style>

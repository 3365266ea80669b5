<script setup lang="ts">
import type { Home, Plan } from '@/shared/api/types'
import { edit, useSession } from '@/shared/session/session'
import { parseNumber } from '@/shared/units/format'
import MeasureInput from '@/shared/ui/fields/MeasureInput.vue'
import { measured } from '@/shared/units/measures'
import Choice from '@/shared/ui/fields/Choice.vue'
import KeptInput from '@/shared/ui/fields/KeptInput.vue'

/** What the judged plan is for, and how its bridge ends. */
const props = defineProps<{ plan: Plan; home: Home }>()
const { problem } = useSession()
/** With a generator it offers one, and its fuel, among what would lengthen the hours. */
const ENDING: Record<string, string> = { grid: 'the grid comes back', generator: 'a generator takes over' }
function set(field: 'ending', value: unknown, label: string) {
  edit(`${props.plan.name}: ${label}`, [{ doc: props.plan.id, op: 'replace', path: `/${field}`, value }])
}
function water(value: number | null) {
  if (value === null) return
  const label = `Water set aside: ${measured('volume', value)}`
  edit(label, [{ doc: 'home', op: 'replace', path: '/household/stored_water_l', value }])
}
function household(typed: string, field: 'persons', what: string) {
  const parsed = parseNumber(typed)
  if (!parsed.ok || parsed.value < 0) {
    problem.value = `${what}: ${parsed.ok ? 'it cannot be below 0.' : parsed.why}`
    return
  }
  edit(`${what}: ${parsed.value}`, [{ doc: 'home', op: 'replace', path: `/household/${field}`, value: parsed.value }])
}
</script>

<template>
  <section>
    <h2>What “{{ plan.name }}” is for</h2>
    <div class="rows">
      <label for="a-end">When the stored energy runs out</label>
      <Choice
        id="a-end"
        :model-value="plan.ending === 'generator' ? 'generator' : 'grid'"
        @change="set('ending', $event, `ends when ${ENDING[$event]}`)"
      >
        <el-option v-for="(t, k) in ENDING" :key="k" :value="k" :label="t" />
      </Choice>
      <span>Water set aside</span>
      <span class="water fields">
        <MeasureInput
          kind="volume"
          label="Water set aside"
          :value="home.household.stored_water_l"
          :least="0"
          :most="100000"
          @keep="water"
        />
        <label for="a-persons">for people</label>
        <KeptInput
          id="a-persons"
          :value="home.household.persons"
          inputmode="numeric"
          @keep="household($event, 'persons', 'Persons')"
        />
      </span>
    </div>
  </section>
</template>

<style scoped>
.water {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: center;
}
.water :deep(.measure),
.water .el-input {
  width: 110px;
}
.rows {
  display: grid;
  grid-template-columns: max-content minmax(0, 320px);
  gap: 6px 12px;
  align-items: center;
  margin: 6px 0;
}
label {
  color: var(--soft);
}
</style>

<script setup lang="ts">
import type { Home, Plan } from '@/shared/api/types'
import { edit, useSession } from '@/shared/session'
import { parseNumber } from '@/shared/units/format'

/** What the judged plan is for, and how its bridge ends. */
const props = defineProps<{ plan: Plan; home: Home }>()
const { problem } = useSession()
const FOR = { outages: 'outages only', bills: 'bills only', both: 'outages and bills' }
const ENDING = {
  grid: 'the grid comes back',
  sun: 'the sun refills it',
  generator: 'a generator refills it',
  drive: 'it is driven off to be charged',
}
function set(field: 'purpose' | 'runs_on' | 'ending', value: unknown, label: string) {
  edit(`${props.plan.name}: ${label}`, [{ doc: props.plan.id, op: 'replace', path: `/${field}`, value }])
}
function household(event: Event, field: 'stored_water_l' | 'persons', what: string) {
  const input = event.target as HTMLInputElement
  const parsed = parseNumber(input.value)
  if (!parsed.ok || parsed.value < 0) {
    problem.value = `${what}: ${parsed.ok ? 'it cannot be below 0.' : parsed.why}`
    input.value = String(props.home.household[field])
    return
  }
  edit(`${what}: ${parsed.value}`, [{ doc: 'home', op: 'replace', path: `/household/${field}`, value: parsed.value }])
}
const text = (e: Event) => (e.target as HTMLSelectElement).value
</script>

<template>
  <section>
    <h2>What “{{ plan.name }}” is for</h2>
    <div class="rows">
      <label for="a-for">It is for</label>
      <select
        id="a-for"
        :value="plan.purpose"
        @change="set('purpose', text($event), `for ${FOR[text($event) as 'both']}`)"
      >
        <option v-for="(t, k) in FOR" :key="k" :value="k">{{ t }}</option>
      </select>
      <label for="a-on">In an outage it</label>
      <select
        id="a-on"
        :value="plan.runs_on ? 'on' : 'bridge'"
        @change="set('runs_on', text($event) === 'on', text($event) === 'on' ? 'runs on with sun' : 'bridges')"
      >
        <option value="bridge">bridges the gap on what is stored</option>
        <option value="on">runs on, day after day, with sun</option>
      </select>
      <label for="a-end">It ends when</label>
      <select
        id="a-end"
        :value="plan.ending"
        @change="set('ending', text($event), `ends when ${ENDING[text($event) as 'sun']}`)"
      >
        <option v-for="(t, k) in ENDING" :key="k" :value="k">{{ t }}</option>
      </select>
      <label for="a-water">Water set aside, L</label>
      <span class="water fields">
        <input
          id="a-water"
          v-kept="home.household.stored_water_l"
          inputmode="decimal"
          @change="household($event, 'stored_water_l', 'Water set aside')"
        />
        <label for="a-persons">for persons</label>
        <input
          id="a-persons"
          v-kept="home.household.persons"
          inputmode="numeric"
          @change="household($event, 'persons', 'Persons')"
        />
      </span>
    </div>
    <p v-if="plan.purpose !== 'outages'" class="small">
      One charge cannot be promised twice: what is used for the bills before an outage is not there in it. Judge outages
      with the start charge that an ordinary evening leaves.
    </p>
    <p v-if="plan.runs_on && plan.ending === 'grid'" class="small">
      A plan that runs on with sun still needs an ending for a week of cloud: a generator, or a drive to charge.
    </p>
  </section>
</template>

<style scoped>
.water {
  display: flex;
  gap: 10px;
  align-items: center;
}
.water input {
  width: 74px;
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
select {
  min-height: 34px;
  border: 1px solid var(--line-strong);
  border-radius: 7px;
  background: var(--sheet);
  color: var(--ink);
  font: inherit;
}
</style>

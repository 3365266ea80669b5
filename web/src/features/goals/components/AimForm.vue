<script setup lang="ts">
import type { Plan } from '@/shared/api/types'
import { edit } from '@/shared/session'

/** What the judged plan is for, and how its bridge ends. */
const props = defineProps<{ plan: Plan }>()
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

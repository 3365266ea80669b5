<script setup lang="ts">
import type { Window } from '@/shared/api/types'
import { hourOfDay } from '@/shared/units/format'

/** Windows of the day. The list is replaced as a whole. */
const model = defineModel<Window[]>({ required: true })
const HALVES = Array.from({ length: 48 }, (_, i) => i / 2)

function set(i: number, change: Partial<Window>) {
  model.value = model.value.map((w, k) => (k === i ? { ...w, ...change } : w))
}
const add = () => (model.value = [...model.value, { start_h: 18, end_h: 21, days: 'all' }])
const drop = (i: number) => (model.value = model.value.filter((_, k) => k !== i))
/** Half hours, and whatever odd hour is there already. */
const hours = (own: number) => (HALVES.includes(own) ? HALVES : [...HALVES, own].sort((a, b) => a - b))
</script>

<template>
  <ul class="windows">
    <li v-for="(w, i) in model" :key="i">
      <select
        :value="w.start_h"
        aria-label="From"
        @change="set(i, { start_h: Number(($event.target as HTMLSelectElement).value) })"
      >
        <option v-for="h in hours(w.start_h)" :key="h" :value="h">{{ hourOfDay(h) }}</option>
      </select>
      to
      <select
        :value="w.end_h"
        aria-label="Until"
        @change="set(i, { end_h: Number(($event.target as HTMLSelectElement).value) })"
      >
        <option v-for="h in hours(w.end_h)" :key="h" :value="h">{{ hourOfDay(h) }}</option>
      </select>
      <select
        :value="w.days"
        aria-label="Days"
        @change="set(i, { days: ($event.target as HTMLSelectElement).value as Window['days'] })"
      >
        <option value="all">every day</option>
        <option value="weekday">weekdays</option>
        <option value="weekend">weekends</option>
      </select>
      <button type="button" class="link" @click="drop(i)">remove</button>
    </li>
  </ul>
  <button type="button" class="btn tiny" @click="add">Add a window</button>
</template>

<style scoped>
.windows {
  margin: 0 0 6px;
  padding: 0;
  list-style: none;
}
li {
  display: flex;
  gap: 6px;
  align-items: center;
  margin-bottom: 5px;
}
select {
  padding: 3px 4px;
  border: 1px solid var(--line-strong);
  border-radius: 6px;
  background: var(--sheet);
  color: var(--ink);
  font: inherit;
}
@media (max-width: 760px) {
  li {
    flex-wrap: wrap;
  }
  select {
    min-height: 44px;
  }
}
</style>

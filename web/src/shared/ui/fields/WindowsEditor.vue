<script setup lang="ts">
import type { Window } from '@/shared/api/types'
import { hourOfDay } from '@/shared/units/format'
import Choice from '@/shared/ui/fields/Choice.vue'

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
      <Choice :model-value="w.start_h" label="From" @change="set(i, { start_h: Number($event) })">
        <el-option v-for="h in hours(w.start_h)" :key="h" :value="h" :label="hourOfDay(h)" />
      </Choice>
      to
      <Choice :model-value="w.end_h" label="Until" @change="set(i, { end_h: Number($event) })">
        <el-option v-for="h in hours(w.end_h)" :key="h" :value="h" :label="hourOfDay(h)" />
      </Choice>
      <Choice :model-value="w.days" label="Days" @change="set(i, { days: $event as Window['days'] })">
        <el-option value="all" label="every day" />
        <el-option value="weekday" label="weekdays" />
        <el-option value="weekend" label="weekends" />
      </Choice>
      <el-button class="link" @click="drop(i)">remove</el-button>
    </li>
  </ul>
  <el-button class="btn tiny" @click="add">Add a window</el-button>
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
  flex-wrap: wrap;
  align-items: center;
  margin-bottom: 5px;
}
.choice {
  flex: 0 1 7.5em;
  min-width: 6.5em;
}
</style>

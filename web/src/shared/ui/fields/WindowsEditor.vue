<script setup lang="ts">
import type { Window } from '@/shared/api/types'
import Choice from '@/shared/ui/fields/Choice.vue'
import HourChoice from './HourChoice.vue'

/** Windows of the day. The list is replaced as a whole. */
const model = defineModel<Window[]>({ required: true })

function set(i: number, change: Partial<Window>) {
  model.value = model.value.map((w, k) => (k === i ? { ...w, ...change } : w))
}
const add = () => (model.value = [...model.value, { start_h: 18, end_h: 21, days: 'all' }])
const drop = (i: number) => (model.value = model.value.filter((_, k) => k !== i))
</script>

<template>
  <ul class="windows">
    <li v-for="(w, i) in model" :key="i">
      <HourChoice :hour="w.start_h" label="From" @change="set(i, { start_h: $event })" />
      to
      <HourChoice :hour="w.end_h" label="Until" @change="set(i, { end_h: $event })" />
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

<script setup lang="ts">
import { computed } from 'vue'
import { hourOfDay } from '@/shared/units/format'
import Choice from './Choice.vue'

/** An hour of the day, by halves, and whatever odd hour is there already. */
const props = defineProps<{ hour: number; label: string; least?: number; most?: number }>()
defineEmits<{ change: [number] }>()
const HALVES = Array.from({ length: 48 }, (_, i) => i / 2)
const hours = computed(() => (HALVES.includes(props.hour) ? HALVES : [...HALVES, props.hour].sort((a, b) => a - b)))
const out = (h: number) =>
  (props.least !== undefined && h <= props.least) || (props.most !== undefined && h >= props.most)
</script>

<template>
  <Choice :model-value="hour" :label="label" @change="$emit('change', Number($event))">
    <el-option v-for="h in hours" :key="h" :value="h" :disabled="out(h)" :label="hourOfDay(h)" />
  </Choice>
</template>

<script setup lang="ts">
import { computed, ref } from 'vue'
import type { BoardView, Home, Plan } from '@/shared/api/types'
import { feedOf, putIn, type Change, type Spans, type Target } from '../model'

/** Several circuits, or loads on cords, put into free places at once. */
const props = defineProps<{
  home: Home
  plan: Plan
  spans: Spans
  board: BoardView
  count: number
  cords: boolean
}>()
const emit = defineEmits<{ change: [Change] }>()
const picked = ref<string[]>([])
const asTarget = (id: string): Target => ({ kind: props.cords ? 'load' : 'circuit', id })
const off = computed(() =>
  Object.values(props.cords ? props.home.loads : props.home.circuits).filter(
    (x) => !feedOf(props.plan, asTarget(x.id)),
  ),
)
const what = computed(() => (props.cords ? 'loads' : 'circuits'))

function put() {
  const change = putIn(props.plan, props.home, props.spans, picked.value.map(asTarget), props.count, props.board)
  if (change) emit('change', change)
  picked.value = []
}
</script>

<template>
  <div v-if="off.length" class="put">
    <el-select
      v-model="picked"
      multiple
      filterable
      collapse-tags
      :aria-label="`Several ${what} to add`"
      :placeholder="`Add several ${what}`"
    >
      <el-option v-for="x in off" :key="x.id" :value="x.id" :label="x.name" />
    </el-select>
    <el-button class="btn" :disabled="!picked.length" @click="put">
      {{ picked.length > 1 ? `Add ${picked.length}` : 'Add' }}
    </el-button>
  </div>
</template>

<style scoped>
.put {
  display: flex;
  gap: 8px;
  margin: 0 0 10px;
}
.put :deep(.el-select) {
  flex: 1;
}
</style>

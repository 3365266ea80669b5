<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Circuit, Op } from '@/shared/api/types'
import { escape } from '@/shared/session/patch'
import { edit, useSession } from '@/shared/session/session'

/** Loads of the home put on a circuit from the circuit, as many as wanted in one edit. */
const props = defineProps<{ circuit: Circuit }>()
const { home } = useSession()
const picked = ref<string[]>([])
const others = computed(() => Object.values(home.value?.loads ?? {}).filter((l) => l.circuit !== props.circuit.id))
const from = (circuit: string | null) => (circuit && home.value?.circuits[circuit]?.name) || 'on no circuit'

function put() {
  const names = picked.value.map((id) => home.value?.loads[id]?.name ?? id)
  const ops: Op[] = picked.value.map((id) => ({
    doc: 'home',
    op: 'replace',
    path: `/loads/${escape(id)}/circuit`,
    value: props.circuit.id,
  }))
  edit(`${props.circuit.name}: ${names.length === 1 ? names[0] : `${names.length} loads`} put here`, ops)
  picked.value = []
}
</script>

<template>
  <div v-if="others.length" class="put">
    <el-select
      v-model="picked"
      multiple
      filterable
      collapse-tags
      aria-label="Loads to put on this circuit"
      placeholder="Put loads here"
    >
      <el-option v-for="l in others" :key="l.id" :value="l.id" :label="`${l.name}, ${from(l.circuit)}`" />
    </el-select>
    <el-button class="btn" :disabled="!picked.length" @click="put">
      {{ picked.length > 1 ? `Put ${picked.length} here` : 'Put here' }}
    </el-button>
  </div>
</template>

<style scoped>
.put {
  display: flex;
  gap: 8px;
  margin: 10px 0;
}
.put :deep(.el-select) {
  flex: 1;
  max-width: 340px;
}
</style>

<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { answer, api } from '@/shared/api/client'
import type { Load } from '@/shared/api/types'

/** A typical load to begin with: a guess, with its range and the reason for it. */
const props = defineProps<{ id: string; volts: 120 | 230 }>()
const emit = defineEmits<{ pick: [Load] }>()
const chosen = ref('')
const table = useQuery({ queryKey: ['typical'], queryFn: () => answer(api.GET('/api/typical')), staleTime: Infinity })
const rows = computed(() => [...(table.data.value ?? [])].sort((a, b) => a.name.localeCompare(b.name)))
const row = computed(() => rows.value.find((r) => r.id === chosen.value))

async function pick() {
  const params = { path: { typical_id: chosen.value }, query: { volts: props.volts } }
  emit('pick', await answer(api.GET('/api/typical/{typical_id}/load', { params })))
}
</script>

<template>
  <div>
    <el-select :id="id" v-model="chosen" filterable placeholder="a typical load, or enter your own" @change="pick">
      <el-option v-for="r in rows" :key="r.id" :value="r.id" :label="r.name" />
    </el-select>
    <p v-if="row" class="soft small">
      A guess: {{ row.low_w }} · {{ row.usual_w }} · {{ row.high_w }} W, low, usual and high. {{ row.reason }}.
    </p>
  </div>
</template>

<style scoped>
p {
  margin: 4px 0 0;
  line-height: 1.3;
}
</style>

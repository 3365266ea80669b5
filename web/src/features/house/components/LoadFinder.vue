<script setup lang="ts">
import { ref } from 'vue'
import type { Load } from '@/shared/api/types'
import { useSession } from '@/shared/session'

const emit = defineEmits<{ found: [Load] }>()
const { home } = useSession()
const text = ref('')
const field = ref<{ focus: () => void }>()

function find(query: string, done: (list: { value: string; load: Load }[]) => void) {
  const words = query.toLowerCase().split(/\s+/)
  const loads = Object.values(home.value?.loads ?? {})
  const where = (l: Load) => `${l.name} ${l.room} ${home.value?.circuits[l.circuit ?? '']?.name ?? ''}`.toLowerCase()
  done(loads.filter((l) => words.every((w) => where(l).includes(w))).map((load) => ({ value: load.name, load })))
}
function pick(item: Record<string, unknown>) {
  text.value = ''
  emit('found', item.load as Load)
}
defineExpose({ focus: () => field.value?.focus() })
</script>

<template>
  <div class="finder">
    <el-autocomplete
      ref="field"
      v-model="text"
      placeholder="Find a load   /"
      aria-label="Find a load"
      :fetch-suggestions="find"
      highlight-first-item
      @select="pick"
    />
  </div>
</template>

<style scoped>
.finder {
  flex: 0 1 170px;
}
</style>

<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Load } from '@/shared/api/types'
import { useSession } from '@/shared/session/session'

const emit = defineEmits<{ found: [Load] }>()
const { home } = useSession()
const keyed = !window.matchMedia?.('(max-width: 760px), (pointer: coarse)').matches
const chosen = ref('')
const asked = ref('')
const field = ref<{ focus: () => void }>()

const found = computed(() => {
  const words = asked.value.toLowerCase().split(/\s+/)
  const where = (l: Load) => `${l.name} ${l.room} ${home.value?.circuits[l.circuit ?? '']?.name ?? ''}`.toLowerCase()
  return Object.values(home.value?.loads ?? {}).filter((l) => words.every((w) => where(l).includes(w)))
})
function pick(id: string) {
  const load = home.value?.loads[id]
  chosen.value = asked.value = ''
  if (load) emit('found', load as Load)
}
defineExpose({ focus: () => field.value?.focus() })
</script>

<template>
  <div class="finder">
    <el-select
      ref="field"
      v-model="chosen"
      filterable
      default-first-option
      no-match-text="no load of that name"
      no-data-text="no load of that name"
      :placeholder="keyed ? 'Find a load   /' : 'Find a load'"
      aria-label="Find a load"
      :filter-method="(typed: string) => (asked = typed)"
      @change="pick"
    >
      <el-option v-for="l in found" :key="l.id" :value="l.id" :label="l.name" />
    </el-select>
  </div>
</template>

<style scoped>
.finder {
  flex: 0 1 170px;
}
</style>

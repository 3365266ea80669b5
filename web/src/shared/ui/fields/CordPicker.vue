<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { answer, api } from '@/shared/api/client'
import type { Cord } from '@/shared/api/types'
import { parseNumber } from '@/shared/units/format'
import Choice from '@/shared/ui/fields/Choice.vue'
import KeptInput from '@/shared/ui/fields/KeptInput.vue'

/** A cord: its size, its length, and how it lies. Feet are taken too, and kept as metres. */
const props = defineProps<{ cord: Cord | null; metric: boolean; label: string }>()
const emit = defineEmits<{ change: [Cord | null]; problem: [string] }>()
const table = useQuery({ queryKey: ['wires'], queryFn: () => answer(api.GET('/api/wires')), staleTime: Infinity })
const sizes = computed(() => (table.data.value ?? []).filter((w) => w.metric === props.metric))
const shown = computed(() => {
  const m = props.cord?.length_m ?? 0
  return !m ? '' : props.metric ? `${Math.round(m * 10) / 10} m` : `${Math.round((m / 0.3048) * 10) / 10} ft`
})

function size(wire: string) {
  const now = props.cord ?? { wire, length_m: props.metric ? 10 : 7.62, coiled: false, chained: false }
  emit('change', wire ? { ...now, wire } : null)
}
function length(text: string) {
  const parsed = parseNumber(text)
  if (!props.cord) return
  if (!parsed.ok || parsed.value <= 0) {
    emit('problem', `${props.label}: ${parsed.ok ? 'its length is above 0.' : parsed.why}`)
    return
  }
  const feet = /ft|feet|′|'$/.test(text) || (!props.metric && !/m\b/.test(text))
  emit('change', { ...props.cord, length_m: Math.round(parsed.value * (feet ? 0.3048 : 1) * 100) / 100 })
}
const lie = (part: Partial<Cord>) => props.cord && emit('change', { ...props.cord, ...part })
</script>

<template>
  <div class="cord">
    <span class="soft">{{ label }}</span>
    <Choice :model-value="cord?.wire ?? ''" :label="`${label}: size`" @change="size">
      <el-option value="" label="not known" />
      <el-option v-for="w in sizes" :key="w.id" :value="w.id" :label="`${w.name}, ${w.amps} A`" />
    </Choice>
    <template v-if="cord">
      <KeptInput :value="shown" :label="`${label}: length`" @keep="length" />
      <el-checkbox :model-value="cord.coiled" @change="lie({ coiled: !cord.coiled })">on its reel</el-checkbox>
      <el-checkbox :model-value="cord.chained" @change="lie({ chained: !cord.chained })">plugged together</el-checkbox>
    </template>
  </div>
</template>

<style scoped>
.cord {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 10px;
  align-items: center;
  font-size: 13px;
}
.el-input {
  width: 72px;
}
</style>

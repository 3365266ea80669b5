<script setup lang="ts">
import type { Bank, Battery } from '@/shared/api/types'
import { amount } from '@/shared/units/format'

/** Branches of other kinds, side by side with a bank's own batteries: each with a fuse of its own. */
type Branch = Bank['others'][number]
const props = defineProps<{ bank: Bank; batteries: Battery[] }>()
const emit = defineEmits<{ change: [Branch[], string] }>()
const FIGURES = [
  ['series', 'in series', 1, 40],
  ['parallel', 'side by side', 1, 20],
  ['fuse_a', 'fuse (A)', 0, 400],
] as const
function set(i: number, change: Partial<Branch>, words: string) {
  const others = props.bank.others.map((x, k) => (k === i ? { ...x, ...change } : x))
  emit('change', others, words)
}
function add() {
  const battery = props.batteries.find((b) => b.id !== props.bank.battery) ?? props.batteries[0]
  if (!battery) return
  const fresh: Branch = { battery: battery.id, series: props.bank.series, parallel: 1, fuse_a: 0 }
  emit('change', [...props.bank.others, fresh], `${battery.name} side by side`)
}
function drop(i: number) {
  const others = props.bank.others.filter((_, k) => k !== i)
  emit('change', others, 'one kind less')
}
</script>

<template>
  <section v-for="(x, i) in bank.others" :key="i" class="branch">
    <el-select
      :model-value="x.battery"
      :aria-label="`Other battery ${i + 1}`"
      @update:model-value="set(i, { battery: $event }, 'another battery')"
    >
      <el-option
        v-for="k in batteries"
        :key="k.id"
        :value="k.id"
        :label="`${k.name}, ${amount(k.volts)} V ${amount(k.ah)} Ah, ${k.chemistry}`"
      />
    </el-select>
    <div class="form">
      <template v-for="[key, words, least, most] in FIGURES" :key="key">
        <label :for="`${key}-${bank.id}-${i}`">{{ words }}</label>
        <el-input-number
          :id="`${key}-${bank.id}-${i}`"
          :model-value="x[key]"
          :min="least"
          :max="most"
          @change="set(i, { [key]: Number($event) }, `${$event} ${words}`)"
        />
      </template>
    </div>
    <el-button class="link small" @click="drop(i)">remove this kind</el-button>
  </section>
  <el-button v-if="bank.others.length < 6" class="link small" @click="add">Add another kind side by side</el-button>
</template>

<style scoped>
.branch {
  display: grid;
  gap: 5px;
  padding-left: 9px;
  border-left: 2px solid var(--line);
}
.form {
  grid-template-columns: minmax(0, 1fr) 124px;
}
.form :deep(.el-input-number) {
  width: 124px;
}
.link {
  justify-self: start;
}
</style>

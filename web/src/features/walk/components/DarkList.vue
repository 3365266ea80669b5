<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Circuit, Home } from '@/shared/api/types'

/** What went dark: the loads thought to be here, those with no circuit yet, any other, or one not listed so far. */
const props = defineProps<{ home: Home; circuit: Circuit }>()
const loads = defineModel<string[]>('loads', { required: true })
const added = defineModel<string[]>('added', { required: true })
const text = ref('')
const likely = computed(() =>
  Object.values(props.home.loads).filter(
    (l) => l.circuit === props.circuit.id || !l.circuit || loads.value.includes(l.id),
  ),
)
const others = computed(() => Object.values(props.home.loads).filter((l) => !likely.value.includes(l)))
const where = (id: string | null) => (id ? (props.home.circuits[id]?.name ?? '') : 'no circuit yet')

function toggle(id: string) {
  loads.value = loads.value.includes(id) ? loads.value.filter((x) => x !== id) : [...loads.value, id]
}
function pick(event: Event) {
  const select = event.target as HTMLSelectElement
  if (select.value) loads.value = [...loads.value, select.value]
  select.value = ''
}
function add() {
  const name = text.value.trim().slice(0, 80)
  if (name) added.value = [...added.value, name]
  text.value = ''
}
</script>

<template>
  <div class="list">
    <label v-for="l in likely" :key="l.id" class="row">
      <input type="checkbox" :checked="loads.includes(l.id)" @change="toggle(l.id)" />
      <span
        >{{ l.name }}
        <span v-if="l.circuit !== circuit.id" class="soft small">so far on {{ where(l.circuit) }}</span></span
      >
    </label>
    <p v-for="(n, i) in added" :key="i" class="row">
      <span>+ {{ n }}</span>
      <button class="link" @click="added = added.filter((_, k) => k !== i)">not that</button>
    </p>
    <select aria-label="Another load went off" @change="pick">
      <option value="">another load went off…</option>
      <option v-for="l in others" :key="l.id" :value="l.id">{{ l.name }} (assumed on {{ where(l.circuit) }})</option>
    </select>
    <form novalidate class="new" @submit.prevent="add">
      <input v-model="text" aria-label="Something not listed yet" placeholder="something not listed yet" />
      <button class="btn" :disabled="!text.trim()">Add</button>
    </form>
  </div>
</template>

<style scoped>
.row {
  display: flex;
  gap: 10px;
  align-items: center;
  min-height: 46px;
  margin: 0;
  border-bottom: 1px solid var(--line);
}
input[type='checkbox'] {
  width: 24px;
  height: 24px;
  flex: none;
}
select,
.new input {
  width: 100%;
  height: 46px;
  margin-top: 8px;
  padding: 4px 10px;
  border: 1.5px solid var(--line-strong);
  border-radius: 8px;
  background: var(--sheet);
  color: var(--ink);
  font: inherit;
}
.new {
  display: flex;
  gap: 8px;
  align-items: flex-end;
}
.new .btn {
  min-height: 46px;
}
</style>

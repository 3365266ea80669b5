<script setup lang="ts">
import { ref } from 'vue'
import type { Load, Setting } from '@/shared/api/types'
import { freshId } from '@/shared/ids'

/** Other ways a load is set, each with figures of its own; the season's is taken in an outage of that season. */
const props = defineProps<{ load: Load }>()
const settings = defineModel<Record<string, Setting>>({ required: true })
const name = ref('')

function add() {
  const said = name.value.trim().slice(0, 80)
  if (!said) return
  const id = freshId(said, Object.keys(settings.value))
  const { average_w, rest_w, run_w } = props.load
  const made: Setting = { id, name: said, average_w, rest_w, run_w, season: 'any', evidence: 'guess', spread: null }
  settings.value = { ...settings.value, [id]: made }
  name.value = ''
}
function change(id: string, part: Partial<Setting>) {
  const now = settings.value[id]
  if (now) settings.value = { ...settings.value, [id]: { ...now, ...part } }
}
function remove(id: string) {
  settings.value = Object.fromEntries(Object.entries(settings.value).filter(([k]) => k !== id))
}
const number = (event: Event) => Math.max(0, Number((event.target as HTMLInputElement).value) || 0)
</script>

<template>
  <div>
    <div v-for="s in settings" :key="s.id" class="one">
      <b>{{ s.name }}</b>
      <label
        >average
        <input v-kept="s.average_w" inputmode="decimal" @change="change(s.id, { average_w: number($event) })" />
        W</label
      >
      <label
        >running
        <input v-kept="s.run_w" inputmode="decimal" @change="change(s.id, { run_w: number($event) })" /> W</label
      >
      <select
        :value="s.season"
        :aria-label="`Season of ${s.name}`"
        @change="change(s.id, { season: ($event.target as HTMLSelectElement).value as Setting['season'] })"
      >
        <option value="any">any season</option>
        <option value="warm">warm season</option>
        <option value="cold">cold season</option>
      </select>
      <button type="button" class="link small soft" @click="remove(s.id)">remove</button>
    </div>
    <div class="one">
      <input
        v-model="name"
        class="name"
        aria-label="New setting"
        placeholder="low, eco, winter"
        @keydown.enter.prevent="add"
      />
      <button type="button" class="btn tiny" :disabled="!name.trim()" @click="add">Add a setting</button>
    </div>
  </div>
</template>

<style scoped>
.one {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 10px;
  align-items: center;
  padding: 2px 0;
}
input,
select {
  width: 64px;
  min-height: 30px;
  padding: 1px 6px;
  border: 1px solid var(--line-strong);
  border-radius: 6px;
  background: var(--sheet);
  color: var(--ink);
  font: inherit;
}
.name {
  width: 150px;
}
select {
  width: auto;
}
</style>

<script setup lang="ts">
import { ref } from 'vue'
import type { Load, Setting } from '@/shared/api/types'
import { freshId } from '@/shared/ids'
import Choice from '@/shared/ui/fields/Choice.vue'
import KeptInput from '@/shared/ui/fields/KeptInput.vue'

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
const number = (typed: string) => Math.max(0, Number(typed) || 0)
</script>

<template>
  <div>
    <div v-for="s in settings" :key="s.id" class="one">
      <b>{{ s.name }}</b>
      <label
        >average
        <KeptInput
          :value="s.average_w"
          inputmode="decimal"
          label="average"
          @keep="change(s.id, { average_w: number($event) })"
        />
        W</label
      >
      <label
        >running
        <KeptInput
          :value="s.run_w"
          inputmode="decimal"
          label="running"
          @keep="change(s.id, { run_w: number($event) })"
        />
        W</label
      >
      <Choice
        :model-value="s.season"
        :label="`Season of ${s.name}`"
        @change="change(s.id, { season: $event as Setting['season'] })"
      >
        <el-option value="any" label="any season" />
        <el-option value="warm" label="warm season" />
        <el-option value="cold" label="cold season" />
      </Choice>
      <el-button class="link small soft" @click="remove(s.id)">remove</el-button>
    </div>
    <div class="one">
      <el-input
        v-model="name"
        class="name"
        aria-label="New setting"
        placeholder="low, eco, winter"
        @keydown.enter.prevent="add"
      />
      <el-button class="btn tiny" :disabled="!name.trim()" @click="add">Add a setting</el-button>
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
.el-input,
.choice {
  width: 64px;
}
.name {
  width: 150px;
}
.choice {
  width: auto;
}
</style>

<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { useSessionStorage, watchDebounced } from '@vueuse/core'
import { computed, ref } from 'vue'
import { answer, api } from '@/shared/api/client'
import type { SharedStorm, StormAnswer } from '@/shared/api/types'
import { uniqueId } from '@/shared/ids'
import StormLine from './StormLine.vue'
import Fig from '@/shared/ui/Fig.vue'
import { homeToday } from '@/shared/units/homeTime'

/** One storm laid over every home: what each says of it, kept in each where it is wanted, and its papers. */
const WEATHER = ['clear', 'broken', 'overcast', 'storm', 'smoke'] as const
const storm = useSessionStorage<SharedStorm>('one-storm', {
  name: 'Shared storm',
  start: `${homeToday()}T18:00:00`,
  hours: 48,
  weather: 'storm',
})
const homes = useQuery({ queryKey: ['homes'], queryFn: () => answer(api.GET('/api/homes')) })
const rows = ref<Record<string, StormAnswer | string>>({})
const keeping = ref(false)
const list = computed(() => homes.data.value ?? [])
const found = computed(() => list.value.map((h) => rows.value[h.id]).filter((r) => typeof r === 'object'))
const reached = computed(() => found.value.filter((r) => r.reaches && r.fits).length)
/** By home, the plan that was chosen for it; none for the one that speaks for it. */
const chosen = useSessionStorage<Record<string, string>>('one-storm-plans', {})
/** Only answers to the storm as it was asked for last are shown. */
let asked = 0

async function ask(home: string, turn: number) {
  try {
    const plan = chosen.value[home]
    const params = { path: { home_id: home }, query: plan ? { plan } : {} }
    const got = await answer(api.POST('/api/homes/{home_id}/shared-storm', { params, body: storm.value }))
    if (turn === asked) rows.value = { ...rows.value, [home]: got }
  } catch (error) {
    if (turn === asked) rows.value = { ...rows.value, [home]: error instanceof Error ? error.message : String(error) }
  }
}
async function lay() {
  const turn = ++asked
  rows.value = {}
  for (const h of list.value) {
    if (turn !== asked) return
    await ask(h.id, turn)
  }
}
watchDebounced([list, storm], () => void lay(), { immediate: true, deep: true, debounce: 300 })

async function choosePlan(home: string, plan: string) {
  chosen.value = { ...chosen.value, [home]: plan }
  await ask(home, asked)
}
async function keep(home: string) {
  const params = { path: { home_id: home }, query: { edit_id: uniqueId() } }
  try {
    await answer(api.POST('/api/homes/{home_id}/shared-storm/kept', { params, body: storm.value }))
    await ask(home, asked)
  } catch (error) {
    rows.value = { ...rows.value, [home]: error instanceof Error ? error.message : String(error) }
  }
}
async function keepAll() {
  keeping.value = true
  for (const r of found.value) if (!r.kept) await keep(r.home)
  keeping.value = false
}
</script>

<template>
  <main class="one-storm">
    <p><RouterLink to="/">All homes</RouterLink></p>
    <h1>One storm over all homes</h1>
    <p class="soft">
      Each home answers with its built plan, or the one that you choose, at the temperatures of its own outage in that
      season. Nothing is kept until you say so.
    </p>
    <form novalidate class="fields" @submit.prevent>
      <label>Name <el-input v-model="storm.name" maxlength="80" /></label>
      <label
        >Start
        <el-date-picker
          v-model="storm.start"
          aria-label="Start, local time"
          :automatic-dropdown="false"
          type="datetime"
          format="YYYY-MM-DD HH:mm"
          value-format="YYYY-MM-DDTHH:mm:ss"
          :clearable="false"
      /></label>
      <label>Hours <el-input-number v-model="storm.hours" :min="1" :max="336" aria-label="Hours" /></label>
      <label
        >Sky
        <el-select v-model="storm.weather" aria-label="Sky">
          <el-option v-for="w in WEATHER" :key="w" :value="w" :label="w" /> </el-select
      ></label>
    </form>
    <p v-if="homes.isError.value" role="alert">{{ homes.error.value?.message }}</p>
    <p v-else-if="!homes.data.value" class="soft" role="status">Looking for homes…</p>
    <p v-else-if="!list.length">No home yet. <RouterLink to="/start">Start one</RouterLink></p>
    <template v-else>
      <p class="sum" role="status" data-test="reached">
        <Fig :text="`${reached} of ${list.length} homes`" /> reach the end of it, 9 times in 10<template
          v-if="found.length < list.length"
        >
          ({{ list.length - found.length }} still to answer)</template
        >.
        <el-button class="btn tiny" :disabled="keeping || !found.some((r) => !r.kept)" @click="keepAll"
          >Keep it in all homes</el-button
        >
      </p>
      <ul>
        <StormLine
          v-for="h in list"
          :key="h.id"
          :name="h.name"
          :answer="typeof rows[h.id] === 'object' ? (rows[h.id] as StormAnswer) : null"
          :problem="typeof rows[h.id] === 'string' ? (rows[h.id] as string) : ''"
          @plan="choosePlan(h.id, $event)"
          @keep="keep(h.id)"
        />
      </ul>
    </template>
  </main>
</template>

<style scoped>
.one-storm {
  max-width: 860px;
  margin: 0 auto;
  padding: 4vh 20px;
}
form {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 18px;
  margin: 18px 0;
}
form label {
  display: grid;
}
form .el-select {
  width: 140px;
}
.sum {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 8px;
  align-items: center;
}
ul {
  margin: 14px 0;
  padding: 0;
  border-top: 1px solid var(--line);
  list-style: none;
}
</style>

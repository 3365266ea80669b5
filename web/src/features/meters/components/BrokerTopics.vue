<script setup lang="ts">
import { computed, ref } from 'vue'
import type { BrokerView, PickBody } from '@/shared/api/types'
import { useSession } from '@/shared/session/session'
import { withUnit } from '@/shared/units/withUnit'
import Fig from '@/shared/ui/Fig.vue'

/** The numbers on a broker. One that is clicked is told what it is and whose; nothing is taken before. */
const props = defineProps<{ seen: BrokerView; busy: boolean }>()
const emit = defineEmits<{ pick: [body: PickBody, done: () => void] }>()
const { home, plan } = useSession()
const search = ref('')
const MOST_ROWS = 30
/** The number that was clicked, and what it is told to be. */
const picked = ref<{ topic: string; path: string } | null>(null)
const meaning = ref<PickBody['meaning'] | ''>('')
const whose = ref('')
const topics = computed(() => {
  const words = search.value.toLowerCase().trim()
  const all = props.seen.topics.filter((t) => `${t.topic} ${t.path}`.toLowerCase().includes(words))
  return all.slice(0, MOST_ROWS)
})
const hidden = computed(() => props.seen.topics.length - topics.value.length)
const MEANINGS: { value: PickBody['meaning']; text: string }[] = [
  { value: 'W', text: 'power in W' },
  { value: 'Wh', text: 'a counter of energy' },
  { value: 'V', text: 'volts' },
  { value: 'A', text: 'amps' },
  { value: '%', text: 'a battery’s charge in %' },
]
const targets = computed(() => {
  const found: { value: string; text: string }[] = []
  const stations = Object.values(plan.value?.sources ?? {})
  if (meaning.value === '%')
    return stations.map((s) => ({ value: `station_charge:${s.id}`, text: `charge of ${s.station}` }))
  found.push({ value: 'home:', text: 'the whole house' })
  for (const l of Object.values(home.value?.loads ?? {})) found.push({ value: `load:${l.id}`, text: l.name })
  for (const c of Object.values(home.value?.circuits ?? {}))
    found.push({ value: `circuit:${c.id}`, text: `circuit ${c.name}` })
  if (meaning.value === 'W' || meaning.value === 'Wh')
    for (const [role, text] of Object.entries(props.seen.energy))
      found.push({ value: `energy:${role}`, text: `Everyday: ${text.toLowerCase()}` })
  if (meaning.value === 'W')
    for (const s of stations)
      found.push(
        { value: `station_out:${s.id}`, text: `output of ${s.station}` },
        { value: `station_in:${s.id}`, text: `input of ${s.station}` },
      )
  return found
})
function choose(t: BrokerView['topics'][number]) {
  picked.value = { topic: t.topic, path: t.path }
  meaning.value = (t.guess as PickBody['meaning']) || ''
  whose.value = ''
}
function take() {
  const [kind = '', target = ''] = whose.value.split(':')
  if (!picked.value || !meaning.value || !kind) return
  const mine = picked.value
  emit('pick', { ...mine, meaning: meaning.value, kind, target } as PickBody, () => {
    // Another one may have been opened meanwhile.
    if (picked.value === mine) picked.value = null
  })
}
</script>

<template>
  <p v-if="!seen.topics.length" class="soft" role="status">Waiting for a first message…</p>
  <template v-else>
    <el-input v-model="search" aria-label="Search the topics" placeholder="Search: plug, power, soc" class="search" />
    <ul class="topics">
      <li v-for="t in topics" :key="`${t.topic} ${t.path}`">
        <el-button class="topic" :aria-pressed="picked?.topic === t.topic && picked.path === t.path" @click="choose(t)">
          <span
            >{{ t.topic }}<template v-if="t.path"> · {{ t.path }}</template></span
          >
          <Fig :text="withUnit(t.value, t.unit || t.guess)" />
        </el-button>
        <form v-if="picked?.topic === t.topic && picked.path === t.path" class="meaning" @submit.prevent="take">
          <el-select v-model="meaning" aria-label="What it is" placeholder="What is it?" @change="whose = ''">
            <el-option v-for="m in MEANINGS" :key="m.value" :value="m.value" :label="m.text" />
          </el-select>
          <el-select
            v-model="whose"
            filterable
            aria-label="Load, circuit or station"
            placeholder="Load, circuit or station"
            :disabled="!meaning"
          >
            <el-option v-for="x in targets" :key="x.value" :value="x.value" :label="x.text" />
          </el-select>
          <el-button native-type="submit" class="btn strong" :disabled="!meaning || !whose || busy"
            >Take this value</el-button
          >
        </form>
      </li>
    </ul>
    <p v-if="hidden > 0" class="soft small">{{ hidden }} more. Search for them by name.</p>
    <p v-if="seen.beyond" class="soft small">The broker has more numbers than Imbuto lists.</p>
  </template>
</template>

<style scoped>
ul {
  margin: 6px 0;
  padding: 0;
  list-style: none;
}
.search {
  max-width: 300px;
}
.topics {
  max-height: 320px;
  overflow: auto;
}
.topic {
  display: flex;
  width: 100%;
  min-height: 30px;
  justify-content: space-between;
  padding: 2px 8px;
  border-top: 1px solid var(--line);
  text-align: left;
}
.topic :deep(> span) {
  display: flex;
  width: 100%;
  gap: 12px;
  justify-content: space-between;
}
.topic[aria-pressed='true'] {
  background: var(--well);
  font-weight: 650;
}
.meaning {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  padding: 8px;
  background: var(--well);
}
.meaning .el-select {
  flex: 1 1 180px;
}
@media (max-width: 760px) {
  .topic {
    min-height: 44px;
  }
}
</style>

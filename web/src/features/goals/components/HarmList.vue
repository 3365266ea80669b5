<script setup lang="ts">
import { computed } from 'vue'
import type { GoalsView } from '@/shared/api/types'
import { edit, useSession } from '@/shared/session/session'

/** What must not happen, worst first, and whether the judged plan keeps on what prevents it. */
const props = defineProps<{ goals: GoalsView }>()
const { home, plan } = useSession()
type Harm = GoalsView['harms'][number]['harm']
const WORDS: Record<Harm, string> = {
  breathing: 'A breathing aid, or other medical device, stops',
  frost: 'Pipes freeze',
  flood: 'Water comes in, or sewage backs up',
  no_water: 'No water from the tap',
  food: 'Food spoils',
  no_heat: 'No heat',
  work: 'Work or classes are lost',
}
const picked = computed(() => home.value?.household.harms ?? [])
const rows = computed(() =>
  [...props.goals.harms]
    .sort((a, b) => rank(a.harm) - rank(b.harm))
    .map((h) => ({ ...h, missing: h.loads.filter((l) => !h.kept.includes(l)) })),
)
const rank = (h: Harm) => (picked.value.includes(h) ? picked.value.indexOf(h) : 99)
const name = (id: string) => home.value?.loads[id]?.name ?? id

function set(harms: Harm[], label: string) {
  edit(label, [{ doc: 'home', op: 'replace', path: '/household/harms', value: harms }])
}
function toggle(harm: Harm) {
  const on = picked.value.includes(harm)
  const next = on ? picked.value.filter((h) => h !== harm) : [...picked.value, harm]
  set(next, `${on ? 'May happen' : 'Must not happen'}: ${WORDS[harm].toLowerCase()}`)
}
function up(harm: Harm) {
  const list = [...picked.value]
  const i = list.indexOf(harm)
  list.splice(i - 1, 2, harm, list[i - 1] as Harm)
  set(list, `Comes earlier: ${WORDS[harm].toLowerCase()}`)
}
</script>

<template>
  <section>
    <h2>What must not happen <span class="soft small">Imbuto ranks circuits by harm, not by watts</span></h2>
    <ul>
      <li v-for="h in rows" :key="h.harm">
        <el-checkbox :model-value="picked.includes(h.harm)" @change="toggle(h.harm)"
          ><b v-if="picked.includes(h.harm)">{{ picked.indexOf(h.harm) + 1 }}.</b> {{ WORDS[h.harm] }}</el-checkbox
        >
        <el-button v-if="picked.indexOf(h.harm) > 0" class="link small" @click="up(h.harm)">earlier</el-button>
        <p v-if="picked.includes(h.harm)" class="small">
          <template v-if="!h.loads.length">
            <span class="gap">No load prevents this yet.</span> Open a load and enter what happens without it.
          </template>
          <template v-else-if="h.missing.length">
            <span class="gap">{{ h.missing.map(name).join(', ') }} not kept on</span> in “{{ plan?.name }}”{{
              h.kept.length ? `; ${h.kept.map(name).join(', ')} kept on` : ''
            }}.
          </template>
          <template v-else>Kept on in “{{ plan?.name }}”: {{ h.kept.map(name).join(', ') }}.</template>
        </p>
      </li>
    </ul>
    <p v-for="b in goals.blind_spots" :key="b" class="small"><span class="gap">Visible remotely:</span> {{ b }}</p>
  </section>
</template>

<style scoped>
h2 span {
  font: 400 12.5px var(--text);
}
ul {
  margin: 6px 0;
  padding: 0;
  list-style: none;
}
li {
  display: flex;
  flex-wrap: wrap;
  gap: 0 12px;
  align-items: center;
  padding: 4px 0;
  border-bottom: 1px solid var(--line);
}
li label {
  display: flex;
  gap: 8px;
  align-items: center;
  min-height: 28px;
}
li p {
  flex-basis: 100%;
  margin: 0 0 4px 26px;
  color: var(--soft);
}
.gap {
  color: var(--ink);
  font-weight: 700;
}
</style>

<script setup lang="ts">
import { computed, reactive, ref } from 'vue'
import { freshId } from '@/shared/ids'
import { escape } from '@/shared/session/patch'
import { edit, useSession } from '@/shared/session/session'
import { parseNumber } from '@/shared/units/format'

/** An entry of the logbook by hand; no network is needed for it. */
const props = defineProps<{ now: () => string }>()
const { home, plan } = useSession()
const KINDS = {
  note: 'A note',
  defect: 'A defect',
  waking: 'The charge at dawn',
  energy: 'Energy for one day',
  cycles: 'Cycles, from the display',
  part: 'Part changed',
  firmware: 'Firmware changed',
}
type Kind = keyof typeof KINDS
const FIELDS: Partial<Record<Kind, [string, string][]>> = {
  waking: [
    ['evening', 'Charge at 10 pm (%)'],
    ['charge', 'Charge at dawn (%)'],
  ],
  energy: [
    ['sun_kwh', 'From the sun (kWh)'],
    ['grid_kwh', 'From the grid (kWh)'],
    ['house_kwh', 'Used by the house (kWh)'],
    ['battery_in_kwh', 'Into the battery (kWh)'],
    ['battery_out_kwh', 'Out of the battery (kWh)'],
    ['battery_at_sun_kwh', 'Battery power at a solar input, counted as sun (kWh)'],
  ],
  cycles: [['cycles', 'Cycles']],
}
const CASE: [string, string][] = [
  ['symptom', 'Fault'],
  ['readings', 'Displays'],
  ['firmware', 'Firmware'],
  ['asked', 'People you asked'],
  ['workaround', 'Workaround'],
  ['effect', 'Effect on the plan'],
]
const kind = ref<Kind>('note')
const title = ref('')
const note = ref('')
const figures = reactive<Record<string, string>>({})
const words = reactive<Record<string, string>>({})
const wrong = computed(() => {
  if (!title.value.trim()) return 'Enter a few words as the title.'
  if (kind.value === 'defect' && !words.symptom?.trim()) return 'Describe the fault.'
  for (const [key, text] of FIELDS[kind.value] ?? []) {
    const typed = figures[key]?.trim()
    if (!typed) continue
    const read = parseNumber(typed)
    if (!read.ok || read.value < 0) return `${text}: “${typed}” isn’t a number.`
    if ((key === 'charge' || key === 'evening') && read.value > 100) return `${text}: from 0 to 100.`
  }
  return ''
})
function keep() {
  const id = freshId(title.value, Object.keys(home.value?.book ?? {}))
  const read = (key: string) =>
    parseNumber(figures[key] ?? '').value / (key === 'charge' || key === 'evening' ? 100 : 1)
  const given = (FIELDS[kind.value] ?? []).filter(([key]) => figures[key]?.trim()).map(([key]) => [key, read(key)])
  const value = {
    id,
    kind: kind.value,
    at: props.now(),
    title: title.value.trim(),
    source: Object.keys(plan.value?.sources ?? {})[0] ?? '',
    note: note.value.trim(),
    figures: Object.fromEntries(given),
    case: kind.value === 'defect' ? Object.fromEntries(CASE.map(([key]) => [key, words[key]?.trim() ?? ''])) : null,
  }
  edit(`Logbook: ${value.title}`, [{ doc: 'home', op: 'add', path: `/book/${escape(id)}`, value }])
  title.value = note.value = ''
  for (const key of Object.keys(figures)) delete figures[key]
  for (const key of Object.keys(words)) delete words[key]
}
</script>

<template>
  <form class="entry fields" novalidate @submit.prevent="keep">
    <label>
      Kind of entry
      <el-select v-model="kind" aria-label="Kind of entry">
        <el-option v-for="(text, key) in KINDS" :key="key" :value="key" :label="text" />
      </el-select>
    </label>
    <label>Title <el-input v-model="title" maxlength="80" autocomplete="off" /></label>
    <label v-for="[key, text] in FIELDS[kind] ?? []" :key="key">
      {{ text }} <el-input v-model="figures[key]" inputmode="decimal" autocomplete="off" />
    </label>
    <template v-if="kind === 'defect'">
      <label v-for="[key, text] in CASE" :key="key"
        >{{ text }} <el-input v-model="words[key]" maxlength="300" autocomplete="off"
      /></label>
    </template>
    <label v-if="kind !== 'defect'">Details <el-input v-model="note" maxlength="300" autocomplete="off" /></label>
    <p>
      <el-button native-type="submit" class="btn strong" :disabled="!!wrong">Save entry</el-button>
      <small v-if="wrong && title" class="soft">&nbsp;{{ wrong }}</small>
    </p>
  </form>
</template>

<style scoped>
.entry {
  display: grid;
  gap: 8px;
  max-width: 420px;
}
label {
  display: grid;
  gap: 2px;
  font-size: 13.5px;
}
</style>

<script setup lang="ts">
import { ref } from 'vue'
import { answer, api } from '@/shared/api/client'
import type { Op, SunView } from '@/shared/api/types'
import { act, useSession } from '@/shared/session/session'
import { parseNumber } from '@/shared/units/format'
import { MONTHS } from '../model'
import KeptInput from '@/shared/ui/fields/KeptInput.vue'
import FileButton from '@/shared/ui/fields/FileButton.vue'

/** What days of each month are like here: by climate, typed, or read from a weather file. */
const props = defineProps<{ view: SunView; climate: string }>()
const emit = defineEmits<{ change: [Op[], string] }>()
const { problem } = useSession()
const reading = ref(false)
const KINDS = ['clear', 'broken', 'overcast'] as const
const percent = (share: number) => String(Math.round(1000 * share) / 10)
const stormy = (m: SunView['sky'][number]) => percent(Math.max(0, 1 - m.clear - m.broken - m.overcast))

function set(typed: string, month: number, kind: (typeof KINDS)[number]) {
  const row = props.view.sky.find((m) => m.month === month)
  const parsed = parseNumber(typed)
  const others = row ? KINDS.filter((k) => k !== kind).reduce((sum, k) => sum + row[k], 0) : 0
  if (!row || !parsed.ok || parsed.value < 0 || parsed.value / 100 + others > 1.0001) {
    problem.value = `${MONTHS[month - 1]}, ${kind}: ${parsed.ok ? 'the shares of a month come to 100% at most.' : parsed.why}`
    return
  }
  const value = props.view.sky.map((m) => (m.month === month ? { ...m, [kind]: parsed.value / 100 } : m))
  emit('change', [{ doc: 'home', op: 'replace', path: '/site/sky', value }], `Days of ${MONTHS[month - 1]}`)
}
const byClimate = () =>
  emit('change', [{ doc: 'home', op: 'replace', path: '/site/sky', value: [] }], 'Days reset to climate')

async function read(file: File) {
  reading.value = true
  await act((home, named) =>
    answer(
      api.POST('/api/homes/{home_id}/weather', {
        params: { path: { home_id: home }, query: { name: file.name, edit_id: named.edit_id, ...named.judge } },
        body: '',
        bodySerializer: () => file,
        headers: { 'content-type': 'application/octet-stream' },
      }),
    ),
  )
  reading.value = false
}
</script>

<template>
  <details class="sky">
    <summary>Days of each month, {{ view.own_sky ? 'the home’s own' : `by climate: ${climate || 'mild'}` }}</summary>
    <p class="soft small">
      Shares in %. The rest is stormy. An hourly weather file (EPW or TMY3) of a place nearby is more exact than a
      climate.
    </p>
    <table>
      <thead>
        <tr>
          <th><span class="sr">Month</span></th>
          <th v-for="m in view.sky" :key="m.month" scope="col">{{ MONTHS[m.month - 1] }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="kind in KINDS" :key="kind">
          <th scope="row">{{ kind }}</th>
          <td v-for="m in view.sky" :key="m.month">
            <KeptInput
              :value="percent(m[kind])"
              inputmode="decimal"
              :label="`${kind} in ${MONTHS[m.month - 1]}, %`"
              @keep="set($event, m.month, kind)"
            />
          </td>
        </tr>
        <tr>
          <th scope="row">stormy</th>
          <td v-for="m in view.sky" :key="m.month" class="soft">{{ stormy(m) }}</td>
        </tr>
      </tbody>
    </table>
    <FileButton accept=".epw,.csv,.tm3" tiny :disabled="reading" @file="read">{{
      reading ? 'Reading…' : 'Read a weather file'
    }}</FileButton>
    <el-button v-if="view.own_sky" class="btn tiny" @click="byClimate">Reset to climate</el-button>
  </details>
</template>

<style scoped>
.sky {
  margin-top: 8px;
}
summary {
  cursor: pointer;
}
p {
  margin: 4px 0;
}
table {
  margin-bottom: 6px;
  border-collapse: collapse;
  font-size: 13px;
}
th {
  padding-right: 6px;
  color: var(--soft);
  font-weight: 400;
  text-align: left;
}
td .el-input {
  width: 44px;
}
td.soft {
  padding-right: 6px;
  text-align: right;
}
.btn {
  margin-right: 6px;
}
@media (max-width: 760px) {
  .sky {
    overflow-x: auto;
  }
}
</style>

<script setup lang="ts">
import { reactive } from 'vue'
import type { ProcedureView } from '@/shared/api/types'
import { clock, number, parseNumber } from '@/shared/units/format'
import { measured, parseMeasure, unitOf } from '@/shared/units/measures'

/** The lines of a test: what is expected, what was found, and what it means where the two differ. */
const props = defineProps<{
  lines: ProcedureView['procedure']['lines']
  rows: NonNullable<ProcedureView['last']>['rows']
  going: boolean
}>()
const emit = defineEmits<{
  note: [line: string, value: number, second: number | null, note: string]
  drop: [row: string]
}>()
type Line = ProcedureView['procedure']['lines'][number]
const words = reactive<Record<string, string>>({})
const typed = reactive<Record<string, string>>({})
const further = reactive<Record<string, string>>({})
const of = (line: Line) => props.rows.filter((r) => r.line === line.id)
const latest = (line: Line) => of(line).at(-1)
function figure(line: Line, value: number) {
  if (line.unit === 'yes') return value >= 1 ? 'yes' : 'no'
  if (line.unit === '°C') return measured('temperature', value)
  const figure = number(value, Number.isInteger(value) ? 0 : 1)
  return line.unit === '%' ? `${figure}%` : `${figure} ${line.unit}`
}
/** What was typed, in the line's own unit. */
const read = (line: Line) =>
  line.unit === '°C' ? parseMeasure('temperature', typed[line.id] ?? '') : parseNumber(typed[line.id] ?? '')
const SECONDS: Record<string, string> = { '%': 'Battery charge (%)', h: 'start time (hour)' }
function second(line: Line): number | null {
  if (!line.second) return null
  const said = parseNumber(further[line.id] ?? '')
  return said.ok ? said.value : null
}
function say(line: Line, value: number) {
  emit('note', line.id, value, second(line), (words[line.id] ?? '').trim())
  words[line.id] = ''
}
function note(line: Line) {
  const found = read(line)
  if (!found.ok) return
  emit('note', line.id, found.value, second(line), '')
  typed[line.id] = ''
}
</script>

<template>
  <ol class="lines">
    <li v-for="line in lines" :key="line.id" :class="{ wrong: latest(line)?.ok === false }">
      <p>
        {{ line.what }}
        <small v-if="line.expected != null && line.unit !== 'yes'" class="soft">
          expected {{ figure(line, line.expected)
          }}<template v-if="line.within"> ± {{ figure(line, line.within) }}</template>
        </small>
      </p>
      <div v-if="going" class="entry">
        <label v-if="line.second">
          <small>{{ SECONDS[line.second] ?? line.second }}</small>
          <el-input
            v-model="further[line.id]"
            inputmode="decimal"
            :aria-label="`${line.what}: ${SECONDS[line.second]}`"
          />
        </label>
        <template v-if="line.unit === 'yes'">
          <el-button class="btn" :aria-pressed="latest(line)?.value === 1" @click="say(line, 1)">yes</el-button>
          <el-button class="btn" :aria-pressed="latest(line)?.value === 0" @click="say(line, 0)">no</el-button>
        </template>
        <el-input
          v-if="line.unit === 'yes' && !line.second"
          v-model="words[line.id]"
          class="words"
          maxlength="300"
          placeholder="in words, such as a serial number"
          :aria-label="`${line.what}: in words`"
        />
        <form v-else-if="line.unit !== 'yes'" @submit.prevent="note(line)">
          <el-input v-model="typed[line.id]" inputmode="decimal" :aria-label="line.what" />
          {{ line.unit === '°C' ? unitOf('temperature') : line.unit }}
          <el-button native-type="submit" class="btn" :disabled="!read(line).ok">Note</el-button>
        </form>
      </div>
      <ul v-if="of(line).length" :class="{ many: line.many }">
        <li v-for="r in line.many ? of(line) : of(line).slice(-1)" :key="r.id">
          <b>{{ figure(line, r.value) }}</b>
          <template v-if="r.second != null"
            >, {{ r.second }}{{ line.second === '%' ? '%' : ` ${line.second}` }}</template
          >
          <template v-if="r.note">: {{ r.note }}</template>
          <small class="soft">&nbsp;{{ clock(r.at) }}</small>
          <b v-if="r.ok === false"> · not as expected</b>
          <el-button
            v-if="going"
            class="link small"
            :aria-label="`Undo ${figure(line, r.value)}`"
            @click="emit('drop', r.id)"
          >
            undo
          </el-button>
        </li>
      </ul>
      <p v-if="latest(line)?.ok === false && line.fails" class="fails">{{ line.fails }}</p>
    </li>
  </ol>
</template>

<style scoped>
.lines {
  display: grid;
  gap: 6px;
  margin: 10px 0;
  padding-left: 22px;
}
.lines > li {
  padding: 4px 10px;
  border-bottom: 1px solid var(--line);
}
.wrong {
  border-left: 5px solid var(--dark);
}
p {
  margin: 2px 0;
}
.entry,
.entry form {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
}
.entry .el-input {
  width: 90px;
}
.entry .btn[aria-pressed='true'] {
  border-width: 3px;
  font-weight: 650;
}
ul {
  margin: 2px 0;
  padding: 0;
  list-style: none;
}
.many {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 18px;
}
.entry .words {
  flex: 1 1 180px;
}
.fails {
  font-weight: 650;
}
</style>

<script setup lang="ts">
import { ref } from 'vue'
import type { Op, TablePath } from '@/shared/api/types'
import { freshId } from '@/shared/ids'
import { escape } from '@/shared/session/patch'
import { edit } from '@/shared/session/session'
import { parseNumber } from '@/shared/units/format'
import KeptInput from './KeptInput.vue'
import type { Column, Row } from './rows'

/** Rows of a document as a table to be filled in: what is typed is kept when the field is left; a row is added by its first field. */
const props = defineProps<{
  label: string
  what: string
  doc: string
  path: TablePath
  columns: Column[]
  rows: Row[]
  /** Something new with every default written out; without it no row is added here. */
  blank?: Record<string, unknown>
  /** Ids of rows that stand in the document; one that does not is added whole when it is first changed. */
  kept: string[]
}>()
const fresh = ref('')
const wrong = ref('')

function put(row: Row, column: Column, typed: unknown) {
  wrong.value = ''
  let value: unknown = typed
  if (column.kind === 'number') {
    const text = String(typed ?? '').trim()
    const read = parseNumber(text)
    if (text && (!read.ok || read.value < 0)) {
      wrong.value = `${column.title}: “${text}” isn’t a number.`
      return
    }
    value = text ? read.value : (column.empty ?? null)
  }
  if (column.kind === 'date') value = typed || null
  if (value === row[column.key]) return
  const label = `${String(row[props.columns[0]?.key ?? 'id'] ?? '') || props.what}: ${column.title}`.slice(0, 80)
  const at = `${props.path}/${escape(row.id)}` as const
  if (props.kept.includes(row.id))
    edit(label, [{ doc: props.doc, op: 'replace', path: `${at}/${column.key}` as Op['path'], value }])
  else edit(label, [{ doc: props.doc, op: 'add', path: at, value: { ...row, [column.key]: value } }])
}
function add() {
  const name = fresh.value.trim()
  const first = props.columns[0]
  if (!name || !first || !props.blank) return
  const id = freshId(name, props.kept)
  const value = { ...structuredClone(props.blank), id, [first.key]: name }
  edit(`${props.what}: ${name}`.slice(0, 80), [
    { doc: props.doc, op: 'add', path: `${props.path}/${escape(id)}`, value },
  ])
  fresh.value = ''
}
function drop(row: Row) {
  edit(`${props.what} taken out`, [{ doc: props.doc, op: 'remove', path: `${props.path}/${escape(row.id)}` }])
}
/** Nothing is said of what does not stand in the document: a figure there would be nobody's. */
const shown = (row: Row, c: Column) =>
  row[c.key] === null || row[c.key] === undefined || (c.kind === 'number' && !props.kept.includes(row.id))
    ? ''
    : String(row[c.key])
const named = (row: Row) => String(row[props.columns[0]?.key ?? 'id'] || props.what)
</script>

<template>
  <div class="rows">
    <table v-if="rows.length" :aria-label="label" class="sums">
      <thead>
        <tr>
          <th v-for="c in columns" :key="c.key" scope="col">{{ c.title }}</th>
          <th><span class="sr">acts</span></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows" :key="row.id">
          <td v-for="(c, i) in columns" :key="c.key" :class="c.kind">
            <b v-if="c.kind === 'said'">{{ c.words?.(row) ?? row[c.key] }}</b>
            <el-select
              v-else-if="c.kind === 'choice'"
              :model-value="row[c.key] as string"
              :aria-label="`${c.title} of ${named(row)}`"
              @change="(v: string) => put(row, c, v)"
            >
              <el-option v-for="(text, key) in c.choices" :key="key" :value="key" :label="text" />
            </el-select>
            <el-date-picker
              v-else-if="c.kind === 'date'"
              :automatic-dropdown="false"
              :model-value="(row[c.key] as string) ?? ''"
              type="date"
              value-format="YYYY-MM-DD"
              :aria-label="`${c.title} of ${named(row)}`"
              placeholder="no day"
              @update:model-value="(v: string) => put(row, c, v)"
            />
            <KeptInput
              v-else
              :value="shown(row, c)"
              :label="i ? `${c.title} of ${named(row)}` : `${c.title}, ${named(row)}`"
              :maxlength="c.most ?? 300"
              :placeholder="c.hint"
              :inputmode="c.kind === 'number' ? 'decimal' : undefined"
              @keep="(v: string) => put(row, c, v)"
            />
          </td>
          <td class="acts">
            <slot name="more" :row="row" />
            <el-button
              v-if="kept.includes(row.id)"
              class="link small"
              :aria-label="`Take out ${named(row)}`"
              @click="drop(row)"
            >
              Remove
            </el-button>
          </td>
        </tr>
      </tbody>
    </table>
    <p v-if="wrong" role="alert" class="wrong">{{ wrong }}</p>
    <form v-if="blank" class="add" novalidate @submit.prevent="add">
      <el-input
        v-model="fresh"
        :aria-label="`New ${what}`"
        :placeholder="`new ${what}`"
        maxlength="80"
        autocomplete="off"
      />
      <el-button native-type="submit" class="btn" :disabled="!fresh.trim()">Add</el-button>
    </form>
  </div>
</template>

<style scoped>
.rows {
  position: relative;
  overflow-x: auto;
}
.sums :where(th, td) {
  text-align: left;
  vertical-align: middle;
  padding: 3px 6px 3px 0;
}
td.said {
  min-width: 150px;
}
td.choice {
  width: 176px;
  min-width: 130px;
}
td.date {
  width: 142px;
  min-width: 132px;
}
td.number {
  width: 92px;
}
td.text {
  min-width: 104px;
}
td :deep(.el-date-editor.el-input) {
  width: 100%;
}
.acts {
  white-space: nowrap;
  text-align: right;
}
.acts > * + * {
  margin-left: 8px;
}
.add {
  display: flex;
  gap: 8px;
  max-width: 380px;
  margin: 6px 0 2px;
}
.wrong {
  color: var(--dark);
}
</style>

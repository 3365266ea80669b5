<script setup lang="ts" generic="Row extends { id: string }">
import { computed, nextTick, ref } from 'vue'

export interface Column<R> {
  key: string
  label: string
  text: (row: R) => string
  /** What stands in the field when it is edited; none: not editable. */
  raw?: (row: R) => string
  choices?: string[]
  figure?: boolean
  wide?: boolean
}
export interface Cell {
  row: string
  key: string
  text: string
}

/** A table edited in place: arrows move, Enter edits, Esc leaves, paste from a spreadsheet fills.
 *  A digit alone edits nothing: 1 to 4 lead to the places of the funnel from here too. */
const props = defineProps<{
  label: string
  columns: Column<Row>[]
  rows: Row[]
  commit: (cells: Cell[]) => string
}>()

const at = ref({ r: 0, c: 0 })
const editing = ref<string | null>(null)
const problem = ref('')
const table = ref<HTMLTableElement>()
const here = computed(() => ({
  r: Math.min(at.value.r, Math.max(props.rows.length - 1, 0)),
  c: Math.min(at.value.c, props.columns.length - 1),
}))

const is = (r: number, c: number) => here.value.r === r && here.value.c === c

function focus(r: number, c: number) {
  at.value = {
    r: Math.max(0, Math.min(r, props.rows.length - 1)),
    c: Math.max(0, Math.min(c, props.columns.length - 1)),
  }
  void nextTick(() => table.value?.querySelector<HTMLElement>('td[tabindex="0"]')?.focus())
}

function begin() {
  const column = props.columns[here.value.c]
  const row = props.rows[here.value.r]
  if (!column?.raw || !row) return
  editing.value = column.raw(row)
  void nextTick(() => {
    const field = table.value?.querySelector<HTMLInputElement | HTMLSelectElement>('td input, td select')
    field?.focus()
    if (field instanceof HTMLInputElement) field.select()
  })
}

function finish(move: [number, number] | null) {
  const text = editing.value
  const { r, c } = here.value
  const row = props.rows[r]
  const column = props.columns[c]
  if (text === null || !row || !column?.raw) return
  if (text !== column.raw(row)) {
    problem.value = props.commit([{ row: row.id, key: column.key, text }])
    if (problem.value) return
  }
  leave()
  if (move) focus(r + move[0], c + move[1])
}

function leave() {
  editing.value = null
  problem.value = ''
}

function onKey(event: KeyboardEvent) {
  if (event.target instanceof HTMLButtonElement) return // a row's own button has its own Enter
  const { r, c } = here.value
  const moves: Record<string, [number, number]> = {
    ArrowUp: [-1, 0],
    ArrowDown: [1, 0],
    ArrowLeft: [0, -1],
    ArrowRight: [0, 1],
  }
  if (editing.value !== null) {
    if (event.key === 'Enter') finish([1, 0])
    else if (event.key === 'Tab') finish([0, event.shiftKey ? -1 : 1])
    else if (event.key === 'Escape') {
      leave()
      focus(r, c)
    } else return
    event.preventDefault()
    event.stopPropagation()
    return
  }
  const move = moves[event.key]
  if (move) focus(r + move[0], c + move[1])
  else if (event.key === 'Enter' || event.key === 'F2') begin()
  else return
  event.preventDefault()
  event.stopPropagation()
}

function onPaste(event: ClipboardEvent) {
  if (editing.value !== null) return
  const lines = (event.clipboardData?.getData('text/plain') ?? '').replace(/\r/g, '').replace(/\n$/, '').split('\n')
  const cells: Cell[] = []
  lines.forEach((line, dr) =>
    line.split('\t').forEach((text, dc) => {
      const row = props.rows[here.value.r + dr]
      const column = props.columns[here.value.c + dc]
      if (row && column?.raw) cells.push({ row: row.id, key: column.key, text })
    }),
  )
  if (!cells.length) return
  event.preventDefault()
  problem.value = props.commit(cells)
}
</script>

<template>
  <div class="across">
    <table ref="table" :aria-label="label" @keydown="onKey" @paste="onPaste">
      <thead>
        <tr>
          <th v-for="column in columns" :key="column.key" scope="col" :class="{ num: column.figure }">
            {{ column.label }}
          </th>
          <th v-if="$slots.end"><span class="sr">More</span></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(row, r) in rows" :key="row.id">
          <td
            v-for="(column, c) in columns"
            :key="column.key"
            :class="{ num: column.figure, wide: column.wide, can: column.raw }"
            :tabindex="is(r, c) && editing === null ? 0 : -1"
            @focus="at = { r, c }"
            @dblclick="begin()"
          >
            <template v-if="is(r, c) && editing !== null">
              <select
                v-if="column.choices"
                v-model="editing"
                :aria-label="column.label"
                @change="finish(null)"
                @blur="leave"
              >
                <option v-for="choice in column.choices" :key="choice">{{ choice }}</option>
              </select>
              <input
                v-else
                v-model="editing"
                :aria-label="column.label"
                :aria-invalid="!!problem"
                @blur="finish(null)"
              />
            </template>
            <slot v-else :name="column.key" :row="row" :text="column.text(row)">
              <span :data-figure="column.figure && column.text(row) ? '' : undefined">{{ column.text(row) }}</span>
            </slot>
          </td>
          <td v-if="$slots.end" class="end"><slot name="end" :row="row" /></td>
        </tr>
      </tbody>
    </table>
  </div>
  <p v-if="problem" role="alert" class="problem">{{ problem }}</p>
</template>

<style scoped>
.across {
  position: relative;
  overflow-x: auto;
}
table {
  width: 100%;
  border-collapse: collapse;
}
th {
  padding: 2px 4px 5px;
  color: var(--soft);
  font-weight: 400;
  font-size: 12.5px;
  text-align: left;
  white-space: nowrap;
}
td {
  height: 34px;
  padding: 2px 4px;
  border-top: 1px solid var(--line);
}
.num {
  text-align: right;
  white-space: nowrap;
}
.wide {
  width: 40%;
}
td.can:hover {
  background: var(--well);
}
td:focus-visible {
  outline: 2px solid var(--focus);
  outline-offset: -2px;
}
td input,
td select {
  width: 100%;
  min-width: 56px;
  padding: 2px 5px;
  border: 2px solid var(--focus);
  border-radius: 5px;
  background: var(--sheet);
  color: var(--ink);
  font: inherit;
  text-align: inherit;
}
.end {
  width: 1%;
  white-space: nowrap;
}
.problem {
  margin: 6px 0 0;
  padding: 6px 10px;
  border-left: 5px solid var(--dark);
  background: var(--sheet);
}
@media (max-width: 760px) {
  td {
    height: 44px;
  }
}
</style>

<script setup lang="ts">
import type { Load } from '@/shared/api/types'
import { edit } from '@/shared/session/session'
import { kwh, number, watts } from '@/shared/units/format'
import EditGrid, { type Cell, type Column } from '@/shared/ui/EditGrid.vue'
import EvidenceMark from '@/shared/ui/EvidenceMark.vue'
import { cellEdit, EVIDENCE, hoursADay, useText, type Figures } from '@/features/house/model'

const props = defineProps<{ loads: Load[]; figures: Figures }>()
defineEmits<{ open: [string] }>()

const columns: Column<Load>[] = [
  { key: 'name', label: 'Load', text: (l) => l.name, raw: (l) => l.name, wide: true },
  { key: 'average_w', label: 'In use', text: (l) => watts(l.average_w), raw: (l) => String(l.average_w), figure: true },
  { key: 'run_w', label: 'Running', text: (l) => watts(l.run_w), raw: (l) => String(l.run_w), figure: true },
  {
    key: 'start_va',
    label: 'Starting',
    text: (l) => `${number(Math.ceil(l.start_va ?? perPieceStart(l)))} VA`,
    raw: (l) => (l.start_va === null ? '' : String(l.start_va)),
    figure: true,
  },
  {
    key: 'hours',
    label: 'h/day',
    text: (l) => (hoursADay(l) === null ? '' : `${number(hoursADay(l) ?? 0, 1)} h`),
    raw: (l) => (hoursADay(l) === null ? '' : String(hoursADay(l))),
    figure: true,
  },
  { key: 'day', label: 'A day', text: (l) => kwh(24 * (props.figures[l.id]?.mean_w ?? 0)), figure: true },
  { key: 'evidence', label: 'How we know', text: (l) => l.evidence, raw: (l) => l.evidence, choices: EVIDENCE },
]

/** One piece's start, from the core's figure for all pieces running and one starting. */
function perPieceStart(load: Load): number {
  const f = props.figures[load.id]
  return f ? f.start_va - (f.run_va * (load.count - 1)) / load.count : 0
}

function commit(cells: Cell[]): string {
  const edits = cells.flatMap((c) => {
    const load = props.loads.find((l) => l.id === c.row)
    return load ? [cellEdit(load, c.key, c.text)] : []
  })
  const wrong = edits.find((e) => e.problem)
  if (wrong) return wrong.problem
  const label = edits.length === 1 ? (edits[0]?.label ?? '') : `${edits.length} figures pasted`
  edit(
    label,
    edits.flatMap((e) => e.ops),
  )
  return ''
}
</script>

<template>
  <EditGrid label="Loads" :columns="columns" :rows="loads" :commit="commit">
    <template #name="{ row }">
      <div class="name">
        <template v-if="row.count > 1">{{ row.count }} × </template>{{ row.name }}
      </div>
      <div class="use">{{ useText(row, figures[row.id]?.duty) }}</div>
    </template>
    <template #evidence="{ row }"><EvidenceMark :evidence="row.evidence" /></template>
    <template #end="{ row }">
      <el-button class="btn tiny" :aria-label="`More of ${row.name}`" @click="$emit('open', row.id)">…</el-button>
    </template>
  </EditGrid>
</template>

<style scoped>
.name {
  font-weight: 650;
  line-height: 1.15;
}
.use {
  color: var(--soft);
  font-size: 12px;
  line-height: 1.2;
}
</style>

<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { answer, api } from '@/shared/api/client'
import type { Load, Op } from '@/shared/api/types'
import { freshId } from '@/shared/ids'
import { escape } from '@/shared/session/patch'
import { edit, useSession } from '@/shared/session/session'
import { newLoad } from '@/features/house/model'

/** Many loads at once: a list with one load on each line, read line by line, shown, and added as one edit. */
const props = defineProps<{ circuit: string | null; room: string }>()
const emit = defineEmits<{ close: [] }>()
const MOST = 60
const { state, home } = useSession()
const open = ref(true)
const text = ref('')
const reading = ref(false)
const problem = ref('')
interface Line {
  typed: string
  /** What it says, or why it is not taken. */
  says: string
  load: Load | null
  take: boolean
}
const lines = ref<Line[]>([])
const taken = computed(() => lines.value.filter((l) => l.load && l.take))
const table = useQuery({ queryKey: ['typical'], queryFn: () => answer(api.GET('/api/typical')), staleTime: Infinity })
const where = computed(() => (props.circuit ? home.value?.circuits[props.circuit]?.name : undefined))

/** A line without figures that names a typical load is that load, as a guess. */
function typical(line: string) {
  const words = line.toLowerCase().replace(/^[-*•\s]+|[\s.,;:]+$/g, '')
  return (table.data.value ?? []).find(
    (t) => t.name.toLowerCase() === words || t.also.toLowerCase().split(' ').includes(words),
  )
}

async function readOne(typed: string): Promise<Line> {
  const blank = newLoad('new', props.circuit, props.room)
  const known = typical(typed)
  if (known) {
    const params = { path: { typical_id: known.id }, query: { volts: home.value?.service.volts ?? 120 } }
    const load = await answer(api.GET('/api/typical/{typical_id}/load', { params }))
    const says = `A guess: ${known.usual_w} W running.`
    return { typed, says, load: { ...load, circuit: props.circuit, room: props.room }, take: true }
  }
  const params = { path: { home_id: state.value?.id ?? '' }, query: { text: typed, fresh: true } }
  const echo = await answer(api.GET('/api/homes/{home_id}/understand', { params }))
  if (echo.problem) return { typed, says: [echo.problem, echo.says].filter(Boolean).join(' '), load: null, take: false }
  const says = [echo.echo, ...(echo.notes ?? [])].filter(Boolean).join(' ')
  const name = echo.load_name || typed.slice(0, 80)
  return { typed, says, load: { ...blank, ...(echo.fields as Partial<Load>), name }, take: true }
}

async function read() {
  const typed = text.value
    .split('\n')
    .map((l) => l.trim())
    .filter(Boolean)
  problem.value = typed.length > MOST ? `The list has ${typed.length} lines. Paste at most ${MOST} at once.` : ''
  if (problem.value || !typed.length) return
  reading.value = true
  lines.value = []
  try {
    for (const one of typed) lines.value.push(await readOne(one))
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  } finally {
    reading.value = false
  }
}

function add() {
  const there = Object.keys(home.value?.loads ?? {})
  const ops: Op[] = []
  for (const line of taken.value) {
    if (!line.load) continue
    const id = freshId(line.load.name, there)
    there.push(id)
    const value = JSON.parse(JSON.stringify({ ...line.load, id })) as Load
    ops.push({ doc: 'home', op: 'add', path: `/loads/${escape(id)}`, value })
  }
  edit(ops.length === 1 ? `New load: ${taken.value[0]?.load?.name}` : `${ops.length} new loads`, ops)
  open.value = false
}
</script>

<template>
  <el-dialog v-model="open" title="Add a list of loads" width="680" top="5vh" @closed="emit('close')">
    <form novalidate @submit.prevent="read">
      <label for="paste-loads">One load on each line, with the figures you know</label>
      <el-input
        id="paste-loads"
        v-model="text"
        type="textarea"
        :rows="7"
        placeholder="Refrigerator&#10;Kettle 1200 W 10 min per day&#10;8 lamps at 11 W, 5 h per day"
      />
      <div class="tools">
        <el-button native-type="submit" class="btn" :disabled="reading || !text.trim()">Read the list</el-button>
        <span v-if="reading" role="status" class="soft">Reading line {{ lines.length + 1 }}…</span>
        <span v-else-if="where" class="soft">They go on {{ where }}.</span>
      </div>
      <p v-if="problem" role="alert">{{ problem }}</p>
      <ul v-if="lines.length" class="lines">
        <li v-for="(l, n) in lines" :key="n">
          <el-checkbox v-if="l.load" v-model="l.take" :label="l.load.name" />
          <b v-else>Not taken: {{ l.typed }}</b>
          <span class="soft">{{ l.says }}</span>
        </li>
      </ul>
    </form>
    <template #footer>
      <el-button class="btn" @click="open = false">Cancel</el-button>
      <el-button class="btn strong" :disabled="!taken.length || reading" @click="add">
        {{ taken.length === 1 ? 'Add 1 load' : `Add ${taken.length} loads` }}
      </el-button>
    </template>
  </el-dialog>
</template>

<style scoped>
.tools {
  display: flex;
  gap: 12px;
  align-items: center;
  margin: 10px 0;
}
.lines {
  margin: 0;
  padding: 0;
  list-style: none;
}
.lines li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1.4fr);
  gap: 2px 12px;
  align-items: center;
  padding: 4px 0;
  border-top: 1px solid var(--line);
}
@media (max-width: 760px) {
  .lines li {
    grid-template-columns: 1fr;
  }
}
</style>

<script setup lang="ts">
import { ref, shallowRef } from 'vue'
import { answer, api } from '@/shared/api/client'
import type { LogView } from '@/shared/api/types'
import { noteReading, useSession } from '@/shared/session'
import { amount, number, percent, watts } from '@/shared/units/format'
import Fig from '@/shared/ui/Fig.vue'

/** Import meter data: a CSV is read and analysed; each channel is noted for the load it is. */
const emit = defineEmits<{ close: [] }>()
const { state, home } = useSession()
const open = ref(true)
const log = shallowRef<LogView | null>(null)
const problem = ref('')
const reading = ref(false)
const loads = ref<Record<string, string>>({})
const stop = shallowRef<AbortController | null>(null)
const SHAPES: Record<string, string> = {
  steady: 'steady',
  cycling: 'cycles',
  events: 'runs now and then',
  varying: 'varies',
  profile: 'averages only',
}

async function take(event: Event) {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  input.value = ''
  if (!file) return
  problem.value = ''
  log.value = null
  reading.value = true
  stop.value = new AbortController()
  try {
    const init = {
      params: { path: { home_id: state.value?.id ?? '' }, query: { name: file.name } },
      body: file as never,
      bodySerializer: (b: unknown) => b as never,
      signal: stop.value.signal,
    }
    log.value = (await answer(api.POST('/api/homes/{home_id}/logs', init))) as LogView
    loads.value = Object.fromEntries(log.value.channels.map((c) => [c.name, guess(c.name)]))
  } catch (error) {
    problem.value = stop.value.signal.aborted
      ? 'Stopped; nothing was kept.'
      : error instanceof Error
        ? error.message
        : String(error)
  } finally {
    reading.value = false
  }
}
/** The load whose name shares most words with the channel's. */
function guess(channel: string): string {
  const words = channel.toLowerCase().split(/[^a-z]+/)
  const scored = Object.values(home.value?.loads ?? {}).map((l) => ({
    id: l.id,
    score: l.name
      .toLowerCase()
      .split(/\s+/)
      .filter((w) => words.includes(w)).length,
  }))
  const best = scored.sort((a, b) => b.score - a.score)[0]
  return best && best.score > 0 ? best.id : ''
}
function note() {
  for (const c of log.value?.channels ?? []) {
    const load = loads.value[c.name]
    if (load && c.reading) noteReading(c.reading, load)
  }
  emit('close')
}
const chosen = () => (log.value?.channels ?? []).filter((c) => loads.value[c.name] && c.reading).length
function path(sketch: number[]): string {
  const top = Math.max(...sketch, 1)
  return sketch
    .map(
      (w, i) =>
        `${i ? 'L' : 'M'}${((i / Math.max(1, sketch.length - 1)) * 300).toFixed(1)} ${(38 - (36 * w) / top).toFixed(1)}`,
    )
    .join('')
}
</script>

<template>
  <el-dialog v-model="open" title="Import meter data" width="760" top="6vh" @closed="emit('close')">
    <p class="soft">
      A CSV from a plug-in meter, a panel monitor or the utility: a column of times and one or more of W, kW, Wh or kWh.
      Nothing is kept until you note a channel.
    </p>
    <div class="row">
      <label class="btn strong">
        Choose a file
        <input class="sr" type="file" accept=".csv,.txt,.tsv,text/csv" aria-label="Meter data" @change="take" />
      </label>
      <template v-if="reading">
        <span role="status">Reading…</span> <button class="btn" @click="stop?.abort()">Stop</button>
      </template>
    </div>
    <p v-if="problem" role="alert" class="problem">{{ problem }}</p>
    <template v-if="log">
      <ul class="notes soft small">
        <li v-for="n in log.notes" :key="n">{{ n }}</li>
      </ul>
      <section v-for="c in log.channels" :key="c.name" class="channel">
        <svg viewBox="0 0 300 40" role="img" :aria-label="`${c.name} over ${number(c.hours)} hours`">
          <path :d="path(c.sketch_w)" />
        </svg>
        <div class="found">
          <h3>
            {{ c.name }} <span v-if="c.shape" class="soft small">{{ SHAPES[c.shape] }}</span>
          </h3>
          <p v-if="c.problem" class="problem">{{ c.problem }}</p>
          <p v-else>
            <Fig :text="`${amount(c.average_w)} W`" /> average over <Fig :text="`${number(c.hours)} h`" /><template
              v-if="c.parts.length"
              >, rests at <Fig :text="`${amount(c.rest_w)} W`" />, runs at <Fig :text="watts(c.run_w)" /> for
              <Fig :text="percent(c.duty)" /> of the time, starts
              <Fig :text="`${amount(c.starts_a_day)} × a day`" /></template
            ><template v-if="c.gaps">; <Fig :text="`${c.gaps} ×`" /> a gap, not filled</template>.
            <span v-for="p in c.parts.slice(1, 4)" :key="p.w" class="soft">
              Also a {{ p.kind }} of <Fig :text="watts(p.w)" />, <Fig :text="`${amount(p.starts_a_day)} × a day`" />.
            </span>
          </p>
        </div>
        <select v-model="loads[c.name]" :aria-label="`Load of ${c.name}`">
          <option value="">not noted</option>
          <option v-for="l in home?.loads" :key="l.id" :value="l.id">{{ l.name }}</option>
        </select>
      </section>
      <div class="form-end">
        <button class="btn" @click="emit('close')">Cancel</button>
        <button class="btn strong" :disabled="!chosen()" @click="note">Note {{ chosen() }} as logged</button>
      </div>
    </template>
  </el-dialog>
</template>

<style scoped>
.row {
  display: flex;
  gap: 12px;
  align-items: center;
}
.notes {
  margin: 10px 0;
  padding-left: 18px;
}
.channel {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 14px;
  align-items: center;
  padding: 8px 0;
  border-top: 1px solid var(--line);
}
svg {
  width: 150px;
  height: 40px;
  background: var(--well);
  border-radius: 5px;
}
path {
  fill: none;
  stroke: var(--stored);
  stroke-width: 1.4;
  vector-effect: non-scaling-stroke;
}
.found {
  flex: 1 1 300px;
}
.found p {
  margin: 2px 0 0;
}
select {
  max-width: 190px;
  min-height: 34px;
  border: 1px solid var(--line-strong);
  border-radius: 7px;
  background: var(--sheet);
  color: var(--ink);
  font: inherit;
}
.problem {
  margin: 8px 0;
  padding: 6px 10px;
  border-left: 5px solid var(--dark);
}
</style>

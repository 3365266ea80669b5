<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useSession } from '@/shared/session/session'
import { percent } from '@/shared/units/format'
import { guess, kept, useImport, type Clock, type Decimal, type Mapping } from '../importing'
import ImportChannel from './ImportChannel.vue'
import Choice from '@/shared/ui/fields/Choice.vue'
import FileButton from '@/shared/ui/fields/FileButton.vue'

/** Import meter data: a file is read and analysed; each channel is kept for what it was measured at. */
const emit = defineEmits<{ close: [] }>()
const { home, problem: refused } = useSession()
const { part, problem, log, start, stop, keep } = useImport()
const open = ref(true)
const clock = ref<Clock>('home')
const decimal = ref<Decimal>('guess')
const mappings = ref<Record<string, Mapping>>({})
const file = ref<File | null>(null)
const chosen = computed(() => kept(mappings.value))
const busy = ref(false)

watch(log, (found) => {
  const h = home.value
  if (found && h) mappings.value = Object.fromEntries(found.channels.map((c) => [c.name, guess(h, c.name)]))
})

async function take(chosen: File) {
  file.value = chosen
  await start(chosen, clock.value, decimal.value)
}
const SAMPLES: [string, string][] = [
  ['panel-monitor.csv', 'a panel monitor’s three days'],
  ['plug-in-meter.csv', 'a plug-in meter’s two'],
  ['utility.xml', 'a utility’s twenty'],
]
async function trySample(name: string) {
  const answer = await fetch(`/api/samples/${name}`)
  file.value = new File([await answer.blob()], name)
  await start(file.value, clock.value, decimal.value)
}
async function again() {
  if (file.value && part.value === null) await start(file.value, clock.value, decimal.value)
}
async function note() {
  busy.value = true
  const done = await keep(chosen.value)
  busy.value = false
  if (done) emit('close')
  else problem.value = refused.value
}
</script>

<template>
  <el-dialog v-model="open" title="Import meter data" width="760" top="5vh" @closed="emit('close')">
    <p class="soft">
      A CSV from a plug-in meter, a panel monitor or a station, or interval data from your utility as CSV or Green
      Button XML; up to 150 MB. Imbuto keeps nothing until you choose what each channel is.
    </p>
    <div class="row">
      <FileButton strong accept=".csv,.txt,.tsv,.xml,text/csv,text/xml" @file="take">Choose a file</FileButton>
      <label class="soft">
        time zone of the file
        <Choice v-model="clock" label="time zone of the file" @change="again">
          <el-option value="home" :label="`as here (${home?.site.time_zone})`" />
          <el-option value="standard" label="local, standard time all year" />
          <el-option value="utc" label="UTC" />
        </Choice>
      </label>
      <label class="soft">
        decimal mark
        <Choice v-model="decimal" label="decimal mark" @change="again">
          <el-option value="guess" label="detect" />
          <el-option value="comma" label="comma" />
          <el-option value="point" label="point" />
        </Choice>
      </label>
      <template v-if="part !== null">
        <progress :value="part" max="1" :aria-label="`Reading ${file?.name}`" />
        <span role="status" data-figure>{{ percent(part) }} read</span>
        <el-button class="btn" @click="stop">Stop</el-button>
      </template>
    </div>
    <p v-if="!log && part === null" class="soft small">
      No file? Try a made-up one:
      <template v-for="([name, text], i) in SAMPLES" :key="name"
        ><el-button class="link" @click="trySample(name)">{{ text }}</el-button
        >{{ i < SAMPLES.length - 1 ? ', ' : '.' }}
      </template>
    </p>
    <p v-if="problem" role="alert" class="problem">{{ problem }}</p>
    <template v-if="log">
      <ul class="notes soft small">
        <li v-for="n in log.notes" :key="n">{{ n }}</li>
      </ul>
      <template v-for="c in log.channels" :key="c.name">
        <ImportChannel v-if="mappings[c.name]" v-model="mappings[c.name]!" :channel="c" />
      </template>
      <div class="form-end">
        <el-button class="btn" @click="emit('close')">Cancel</el-button>
        <el-button class="btn strong" :disabled="!chosen.length || busy" @click="note">
          Keep {{ chosen.length }} as logged
        </el-button>
      </div>
    </template>
  </el-dialog>
</template>

<style scoped>
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 12px;
  align-items: center;
}
progress {
  width: 120px;
  accent-color: var(--stored);
}
.notes {
  max-height: 130px;
  margin: 10px 0;
  padding-left: 18px;
  overflow: auto;
}
.problem {
  margin: 8px 0;
  padding: 6px 10px;
  border-left: 5px solid var(--dark);
}
</style>

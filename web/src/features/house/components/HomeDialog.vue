<script setup lang="ts">
import { computed, reactive, ref } from 'vue'
import type { Home, Op } from '@/shared/api/types'
import { edit, useSession } from '@/shared/session/session'
import KeptInput from '@/shared/ui/fields/KeptInput.vue'
import MeasureInput from '@/shared/ui/fields/MeasureInput.vue'
import { EAST, measuresOf, NORTH, parsePoint, pointText, type Measures } from '@/shared/units/measures'

/** The supply and the site. */
const emit = defineEmits<{ close: [] }>()
const { home } = useSession()
const before = home.value as Home
const form = reactive({ name: before.name, service: { ...before.service }, site: { ...before.site } })
const open = ref(true)
const zones = [...new Set([...Intl.supportedValuesOf('timeZone'), before.site.time_zone, 'UTC'])]

const WORDS = {
  'us-12': '°F, ft, lb, gal; 6:30 pm',
  'us-24': '°F, ft, lb, gal; 18:30',
  'metric-24': '°C, m, kg, l; 18:30',
  'metric-12': '°C, m, kg, l; 6:30 pm',
} as const
type Words = keyof typeof WORDS
const worded = (m: Measures) => `${m.system}-${m.clock}` as Words
const usual = computed(() => worded(measuresOf({ currency: form.site.currency })))
const chosen = computed<Words | ''>({
  get: () => (form.site.measures ? worded(form.site.measures as Measures) : ''),
  set: (v) => {
    const [system, hours] = v.split('-')
    form.site.measures = v ? { system: system as Measures['system'], clock: Number(hours) as Measures['clock'] } : null
  },
})

function save() {
  const ops: Op[] = []
  if (form.name !== before.name) ops.push({ doc: 'home', op: 'replace', path: '/name', value: form.name })
  for (const part of ['service', 'site'] as const)
    if (JSON.stringify(form[part]) !== JSON.stringify(before[part]))
      ops.push({ doc: 'home', op: 'replace', path: `/${part}`, value: { ...form[part] } })
  edit('Home facts', ops)
  emit('close')
}
const wrong = ref('')
function point(which: 'latitude' | 'longitude', typed: string) {
  const read = which === 'latitude' ? parsePoint(typed, NORTH, 66) : parsePoint(typed, EAST, 180)
  wrong.value = read.ok ? '' : read.why
  if (read.ok) form.site[which] = read.value
}
</script>

<template>
  <el-dialog v-model="open" title="Home facts" width="520" @closed="emit('close')">
    <form novalidate @submit.prevent="save">
      <div class="form">
        <label for="h-name">Name</label><el-input id="h-name" v-model="form.name" maxlength="80" />
        <label for="h-volts">Supply</label>
        <el-select
          id="h-volts"
          v-model="form.service.volts"
          @change="form.service.legs = form.service.volts === 120 ? 2 : 1"
        >
          <el-option :value="120" label="120/240 V split-phase" />
          <el-option :value="230" label="230 V" />
        </el-select>
        <label for="h-main">Main breaker (A)</label>
        <el-input-number id="h-main" v-model="form.service.main_a" :min="0" :max="1000" :controls="false" />
        <label for="h-slots">Panel slots</label>
        <div>
          <el-input-number id="h-slots" v-model="form.service.slots" :min="0" :max="84" :step="2" />
          <span class="soft small"> 0: no panel entered</span>
        </div>
        <label for="h-place">Place</label><el-input id="h-place" v-model="form.site.place" />
        <label for="h-zone">Time zone</label>
        <el-select id="h-zone" v-model="form.site.time_zone" filterable>
          <el-option v-for="z in zones" :key="z" :value="z" :label="z" />
        </el-select>
        <label for="h-lat">Latitude</label>
        <KeptInput id="h-lat" :value="pointText(form.site.latitude, NORTH)" @keep="point('latitude', $event)" />
        <label for="h-lon">Longitude</label>
        <KeptInput id="h-lon" :value="pointText(form.site.longitude, EAST)" @keep="point('longitude', $event)" />
        <small v-if="wrong" role="alert">{{ wrong }}</small>
        <label for="h-low">Record low</label>
        <div>
          <MeasureInput
            id="h-low"
            kind="temperature"
            label="Record low"
            :value="form.site.record_low_c"
            :least="-60"
            :most="60"
            empty
            @keep="(v) => (form.site.record_low_c = v)"
          />
          <small class="soft"> Cold raises the voltage of solar panels. Look up your record low.</small>
        </div>
        <label for="h-system">Measures</label>
        <el-select id="h-system" v-model="chosen">
          <el-option value="" :label="`as usual there: ${WORDS[usual]}`" />
          <el-option v-for="(text, key) in WORDS" :key="key" :value="key" :label="text" />
        </el-select>
        <label for="h-money">Currency</label><el-input id="h-money" v-model="form.site.currency" maxlength="3" />
      </div>
      <div class="form-end">
        <el-button class="btn" @click="emit('close')">Cancel</el-button>
        <el-button native-type="submit" class="btn strong" :disabled="!form.name.trim()">Save</el-button>
      </div>
    </form>
  </el-dialog>
</template>

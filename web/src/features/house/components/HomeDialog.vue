<script setup lang="ts">
import { computed, reactive, ref } from 'vue'
import type { Home, Op } from '@/shared/api/types'
import { edit, useSession } from '@/shared/session'
import { measuresOf, type Measures } from '@/shared/units/measures'

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
        <label for="h-main">Main breaker, A</label>
        <el-input-number id="h-main" v-model="form.service.main_a" :min="0" :max="1000" :controls="false" />
        <label for="h-slots">Slots of the panel</label>
        <div>
          <el-input-number id="h-slots" v-model="form.service.slots" :min="0" :max="84" :step="2" />
          <span class="soft small"> 0: no panel entered</span>
        </div>
        <label for="h-place">Place, in words</label><el-input id="h-place" v-model="form.site.place" />
        <label for="h-zone">Time zone</label>
        <el-select id="h-zone" v-model="form.site.time_zone" filterable>
          <el-option v-for="z in zones" :key="z" :value="z" :label="z" />
        </el-select>
        <label for="h-lat">Latitude, ° north</label>
        <el-input-number id="h-lat" v-model="form.site.latitude" :min="-66" :max="66" :controls="false" />
        <label for="h-lon">Longitude, ° east</label>
        <el-input-number id="h-lon" v-model="form.site.longitude" :min="-180" :max="180" :controls="false" />
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

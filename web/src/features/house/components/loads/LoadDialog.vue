<script setup lang="ts">
import { computed, reactive, ref } from 'vue'
import { answer, api } from '@/shared/api/client'
import type { Load, Op } from '@/shared/api/types'
import { escape } from '@/shared/session/patch'
import { edit, useSession } from '@/shared/session/session'
import { parseNumber } from '@/shared/units/format'
import WindowsEditor from '@/shared/ui/fields/WindowsEditor.vue'
import { EVIDENCE, removeLoad } from '@/features/house/model'
import SettingsEditor from './SettingsEditor.vue'
import TriedEditor from './TriedEditor.vue'
import TypicalPicker from './TypicalPicker.vue'
import MeasureInput from '@/shared/ui/fields/MeasureInput.vue'

/** Everything about one load; saved as one edit. */
const props = defineProps<{ id: string; fresh?: Load | null }>()
const emit = defineEmits<{ close: [] }>()
const { state, home } = useSession()

/** A copy without the framework's wrapping. */
function plain<T>(value: T): T {
  return JSON.parse(JSON.stringify(value)) as T
}
const before = (props.fresh ?? home.value?.loads[props.id]) as Load
const form = reactive<Load>(plain(before))
const open = ref(true)
const times = ref(form.use.times.join(', '))
const problem = ref('')
const pf = computed({
  get: () => (form.power_factor === null ? '' : String(form.power_factor)),
  set: (text) => (form.power_factor = text.trim() ? parseNumber(text).value : null),
})
const start = computed({
  get: () => (form.start_va === null ? '' : String(form.start_va)),
  set: (text) => (form.start_va = text.trim() ? parseNumber(text).value : null),
})
const KINDS: Record<Load['kind'], string> = {
  compressor: 'compressor (refrigerator, air conditioner)',
  pump: 'pump',
  motor: 'other motor',
  fan: 'fan',
  heater: 'heating element',
  electronics: 'electronics',
  corrected: 'electronics with power factor correction',
  inverter_driven: 'inverter-driven motor',
  light: 'light',
}
const SUBSTITUTES: Record<Load['substitute'], string> = {
  none: 'no other way',
  do_without: 'we can leave it off',
  no_electricity: 'another way, without electricity',
  less_power: 'another way, with less power',
}
const HARMS: Record<NonNullable<Load['harm']>, string> = {
  breathing: 'a medical device stops',
  frost: 'pipes freeze',
  flood: 'water comes in',
  no_water: 'no water',
  food: 'food spoils',
  no_heat: 'no heat',
  work: 'work is lost',
}
const PURPOSES: Record<Load['purpose'], string> = {
  life: 'life and health',
  house: 'keeps water and frost out',
  food: 'food',
  communications: 'communications and work',
  comfort: 'comfort',
  convenience: 'convenience',
}

function save() {
  if (form.use.kind === 'tasks') {
    const parsed = times.value
      .split(/[\s;,]+/)
      .filter(Boolean)
      .map(toHour)
    if (!parsed.length || parsed.some((h) => h === null)) {
      problem.value = 'Times of day: write hours such as 7, 12:30, 18.'
      return
    }
    form.use.times = parsed as number[]
  }
  if (form.use.kind === 'daily' && !(form.use.hours > 0 && form.use.hours <= 24)) {
    problem.value = 'Hours per day: more than 0 and at most 24.'
    return
  }
  if (props.fresh) {
    const value = plain(form)
    edit(`New load: ${form.name}`, [{ doc: 'home', op: 'add', path: `/loads/${escape(props.id)}`, value }])
    emit('close')
    return
  }
  const keys = Object.keys(form) as (keyof Load)[]
  const ops: Op[] = keys
    .filter((key) => JSON.stringify(form[key]) !== JSON.stringify(before[key]))
    .map((key) => ({
      doc: 'home',
      op: 'replace',
      path: `/loads/${escape(props.id)}/${key}`,
      value: plain(form[key]),
    }))
  edit(`${form.name}: ${ops.length === 1 ? 'one detail' : 'details'}`, ops)
  emit('close')
}

function toHour(text: string): number | null {
  const match = /^(\d{1,2})(?::(\d{2}))?$/.exec(text)
  const hour = Number(match?.[1]) + Number(match?.[2] ?? 0) / 60
  return match && hour < 24 ? hour : null
}

/** The figures of a typical load, on the circuit and in the room this one is in. */
function takeTypical(load: Load) {
  Object.assign(form, load, { id: form.id, circuit: form.circuit, room: form.room })
  times.value = form.use.times.join(', ')
}

/** What people write in a list: watts and hours a day, a count, a meter's kWh. */
const told = ref('')
const heard = ref('')
async function takeTold() {
  if (!told.value.trim()) return
  const params = { path: { home_id: state.value?.id ?? '' }, query: { text: told.value, fresh: true } }
  const echo = await answer(api.GET('/api/homes/{home_id}/understand', { params }))
  heard.value = [echo.problem, echo.says, echo.echo, ...(echo.notes ?? [])].filter(Boolean).join(' ')
  if (echo.problem) return
  Object.assign(form, echo.fields)
  if (echo.load_name && form.name === 'New load') form.name = echo.load_name
  times.value = form.use.times.join(', ')
}

function remove() {
  if (state.value) edit(`Load removed: ${before.name}`, removeLoad(state.value, props.id))
  emit('close')
}
</script>

<template>
  <el-dialog v-model="open" :title="before.name" width="620" top="5vh" @closed="emit('close')">
    <form novalidate @submit.prevent="save">
      <p v-if="problem" role="alert" class="problem">{{ problem }}</p>
      <div class="form">
        <template v-if="before.name === 'New load'">
          <label for="l-typical">Start with</label>
          <div>
            <TypicalPicker id="l-typical" :volts="home?.service.volts ?? 120" @pick="takeTypical" />
            <el-input
              v-model="told"
              aria-label="Or in your own words"
              placeholder="or in your own words: 600 W 3 h per day"
              @keydown.enter.prevent="takeTold"
              @change="takeTold"
            />
            <p v-if="heard" class="soft small" role="status">{{ heard }}</p>
          </div>
        </template>
        <label for="l-name">Name</label><el-input id="l-name" v-model="form.name" maxlength="80" />
        <label for="l-circuit">On circuit</label>
        <el-select id="l-circuit" v-model="form.circuit" filterable clearable placeholder="none" :value-on-clear="null">
          <el-option v-for="c in home?.circuits" :key="c.id" :value="c.id" :label="`${c.slots.join('·')}  ${c.name}`" />
        </el-select>
        <label for="l-kind">Kind</label>
        <el-select id="l-kind" v-model="form.kind">
          <el-option v-for="(text, kind) in KINDS" :key="kind" :value="kind" :label="text" />
        </el-select>
        <label for="l-purpose">Needed for</label>
        <el-select id="l-purpose" v-model="form.purpose">
          <el-option v-for="(text, p) in PURPOSES" :key="p" :value="p" :label="text" />
        </el-select>
        <label for="l-avg">Average in use (W)</label>
        <el-input-number id="l-avg" v-model="form.average_w" :min="0" :max="50000" :controls="false" />
        <label for="l-rest">Standby (W)</label>
        <el-input-number id="l-rest" v-model="form.rest_w" :min="0" :max="50000" :controls="false" />
        <label for="l-run">Running (W)</label>
        <el-input-number id="l-run" v-model="form.run_w" :min="0" :max="50000" :controls="false" />
        <label for="l-start">Starting (VA)</label>
        <el-input id="l-start" v-model="start" placeholder="by kind: a plug-in meter misses it" />
        <label for="l-pf">Power factor</label><el-input id="l-pf" v-model="pf" placeholder="by kind" />
        <label for="l-count">How many</label>
        <el-input-number id="l-count" v-model="form.count" :min="1" :max="200" />
        <label for="l-use">In use</label>
        <el-select id="l-use" v-model="form.use.kind">
          <el-option value="always" label="always" />
          <el-option value="cycling" label="cycles on and off by itself" />
          <el-option value="windows" label="at certain times of day" />
          <el-option value="tasks" label="for a task, at certain hours" />
          <el-option value="daily" label="for some time each day" />
          <el-option value="weather" label="by the weather outside" />
        </el-select>
        <template v-if="form.use.kind === 'daily'">
          <label for="l-hours">Hours per day</label>
          <el-input-number id="l-hours" v-model="form.use.hours" :min="0" :max="24" :controls="false" />
          <span></span>
          <div><WindowsEditor v-model="form.use.windows" /><span class="soft small">times are optional</span></div>
        </template>
        <template v-if="form.purpose === 'life' && form.use.kind === 'always'">
          <span></span>
          <span class="soft small"
            >Counted all day unless you enter hours. Settings from a physician stay as they are.</span
          >
        </template>
        <template v-if="form.use.kind === 'windows'">
          <span></span>
          <div><WindowsEditor v-model="form.use.windows" /></div>
        </template>
        <template v-if="form.use.kind === 'tasks'">
          <label for="l-times">At</label>
          <el-input id="l-times" v-model="times" placeholder="7, 12:30, 18" />
          <label for="l-min">Minutes each time</label>
          <el-input-number id="l-min" v-model="form.use.minutes" :min="1" :max="1440" />
        </template>
        <template v-if="form.use.kind === 'weather'">
          <span>Off at (outside)</span>
          <MeasureInput
            kind="temperature"
            label="Doesn’t run at (outside)"
            :value="form.use.balance_c"
            :least="-40"
            :most="50"
            @keep="(v) => (form.use.balance_c = v ?? form.use.balance_c)"
          />
          <span>Runs hard at (outside)</span>
          <MeasureInput
            kind="temperature"
            label="Runs hard at (outside)"
            :value="form.use.design_c"
            :least="-60"
            :most="60"
            @keep="(v) => (form.use.design_c = v ?? form.use.design_c)"
          />
          <label for="l-duty">and then for (% of the time)</label>
          <el-input-number
            id="l-duty"
            :model-value="100 * form.use.design_duty"
            :min="1"
            :max="100"
            :controls="false"
            @update:model-value="(v) => (form.use.design_duty = Number(v ?? 80) / 100)"
          />
          <span></span>
          <el-checkbox v-model="form.use.heat_pump">heat pump: draws more watts in the cold</el-checkbox>
        </template>
        <template v-if="form.use.kind === 'cycling' && form.kind === 'pump'">
          <span></span>
          <el-checkbox v-model="form.use.in_storms">sump pump: runs much more in a storm</el-checkbox>
        </template>
        <label for="l-evidence">How we know</label>
        <el-select id="l-evidence" v-model="form.evidence">
          <el-option v-for="e in EVIDENCE" :key="e" :value="e" :label="e" />
        </el-select>
        <span></span>
        <div>
          <el-checkbox v-model="form.thermostatic">kept by a thermostat</el-checkbox>
          <el-checkbox v-model="form.turns_ok">may take turns</el-checkbox>
          <el-checkbox v-model="form.must_not_blink">must never lose power, even briefly</el-checkbox>
          <el-checkbox v-model="form.must_stay">must stay on</el-checkbox>
          <el-checkbox v-model="form.hard_wired">hard-wired</el-checkbox>
          <el-checkbox v-if="home?.service.legs === 2" v-model="form.both_legs">needs 240 V</el-checkbox>
        </div>
        <label for="l-sub">Without it</label>
        <el-select id="l-sub" v-model="form.substitute">
          <el-option v-for="(text, k) in SUBSTITUTES" :key="k" :value="k" :label="text" />
        </el-select>
        <template v-if="form.substitute !== 'none'">
          <label for="l-subnote">How</label>
          <el-input id="l-subnote" v-model="form.substitute_note" placeholder="camp stove, ice box, laptop instead" />
        </template>
        <template v-if="form.substitute === 'less_power'">
          <label for="l-less">Average then (W)</label>
          <el-input-number
            id="l-less"
            v-model="form.less_w"
            :min="0"
            :max="50000"
            :controls="false"
            :value-on-clear="null"
          />
        </template>
        <template v-if="form.purpose === 'life'">
          <label for="l-own">Own battery (hours)</label>
          <el-input-number id="l-own" v-model="form.own_battery_h" :min="0" :max="336" :controls="false" />
        </template>
        <label for="l-harm">What happens without it</label>
        <el-select id="l-harm" v-model="form.harm" clearable placeholder="meaning of this class" :value-on-clear="null">
          <el-option v-for="(text, k) in HARMS" :key="k" :value="k" :label="text" />
        </el-select>
        <span class="top">Other settings</span><SettingsEditor v-model="form.settings" :load="form" />
        <span class="top">A start test that passed</span><TriedEditor v-model="form.tried" />
        <label for="l-note">Note</label><el-input id="l-note" v-model="form.note" type="textarea" :rows="2" />
      </div>
      <div class="form-end">
        <el-button v-if="!fresh" class="btn" @click="remove">Remove this load</el-button>
        <el-button class="btn" @click="emit('close')">Cancel</el-button>
        <el-button native-type="submit" class="btn strong" :disabled="!form.name.trim()">Save</el-button>
      </div>
    </form>
  </el-dialog>
</template>

<style scoped>
.top {
  align-self: start;
  color: var(--soft);
}
.problem {
  margin: 0 0 10px;
  padding: 6px 10px;
  border-left: 5px solid var(--dark);
}
</style>

<script setup lang="ts">
import { homeToday } from '@/shared/units/homeTime'
import { computed, reactive, ref } from 'vue'
import type { Op, Outage } from '@/shared/api/types'
import { freshId } from '@/shared/ids'
import { choose, edit, useSession } from '@/shared/session/session'
import MeasureInput from '@/shared/ui/fields/MeasureInput.vue'

/** One outage: an existing one by id, or a new one for an empty id. */
const props = defineProps<{ id: string }>()
const emit = defineEmits<{ close: [] }>()
const { state, outage: judged } = useSession()

const existing = state.value?.outages.find((o) => o.id === props.id)
const blank: Outage = {
  id: '',
  name: '',
  start: `${homeToday(state.value?.home.site.time_zone)}T18:00:00`,
  hours: 12,
  goal_hours: 12,
  start_charge: 1,
  as_left: false,
  indoors_c: 19,
  garage_c: 12,
  outdoors_c: 8,
  weather: 'overcast',
  iced_h: 0,
  skies: [],
  note: '',
}
const form = reactive<Outage>({
  ...blank,
  ...(existing ?? (judged.value ? { ...judged.value, id: '', name: '' } : {})),
})
const charge = computed({ get: () => Math.round(form.start_charge * 100), set: (v) => (form.start_charge = v / 100) })
const open = ref(true)
const many = computed(() => (state.value?.outages.length ?? 0) > 1)
const AIRS = [
  ['indoors_c', 'Indoors', -30, 50],
  ['garage_c', 'Garage', -40, 55],
  ['outdoors_c', 'Outdoors', -50, 60],
] as const
const WEATHER = ['clear', 'broken', 'overcast', 'storm', 'smoke'] as const

function setSky(day: number, sky: Outage['weather']) {
  form.skies = form.skies.map((w, i) => (i === day ? sky : w))
}
const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b)

function save() {
  if (!form.name.trim()) return
  if (existing) {
    const ops: Op[] = (Object.keys(form) as (keyof Outage)[])
      .filter((key) => !same(form[key], existing[key]))
      .map((key) => ({ doc: existing.id, op: 'replace', path: `/${key}`, value: form[key] }))
    edit(`Outage: ${form.name}`, ops)
  } else {
    const id = freshId(form.name, [...(state.value?.plans ?? []), ...(state.value?.outages ?? [])])
    edit(`New outage: ${form.name}`, [{ doc: id, op: 'add', path: '', kind: 'outage', value: { ...form, id } }])
    void choose({ outage: id })
  }
  emit('close')
}

function remove() {
  if (!existing) return
  const other = state.value?.outages.find((o) => o.id !== existing.id)
  edit(`Outage removed: ${existing.name}`, [{ doc: existing.id, op: 'remove', path: '', kind: 'outage' }])
  if (other) void choose({ outage: other.id })
  emit('close')
}
</script>

<template>
  <el-dialog
    v-model="open"
    :title="existing ? 'This outage' : 'A new outage'"
    width="520"
    append-to-body
    @closed="emit('close')"
  >
    <form novalidate @submit.prevent="save">
      <div class="form">
        <label for="o-name">Name</label>
        <el-input id="o-name" v-model="form.name" maxlength="80" placeholder="such as Spring flood" />
        <label for="o-start">Start (local time)</label>
        <el-date-picker
          id="o-start"
          v-model="form.start"
          :automatic-dropdown="false"
          type="datetime"
          format="YYYY-MM-DD HH:mm"
          placeholder="2026-11-24 18:00"
          value-format="YYYY-MM-DDTHH:mm:ss"
          :clearable="false"
        />
        <label for="o-hours">Length (hours)</label>
        <el-input-number id="o-hours" v-model="form.hours" :min="1" :max="336" />
        <label for="o-goal">Goal (hours)</label>
        <el-input-number id="o-goal" v-model="form.goal_hours" :min="1" :max="336" />
        <label for="o-charge">Charge at the start (%)</label>
        <el-input-number id="o-charge" v-model="charge" :min="0" :max="100" :step="5" />
        <label for="o-left">Or the charge on an ordinary day</label>
        <el-checkbox id="o-left" v-model="form.as_left"
          >with the plan’s modes and the share kept for outages</el-checkbox
        >
        <template v-for="[key, label, least, most] in AIRS" :key="key">
          <span>{{ label }}</span>
          <MeasureInput
            kind="temperature"
            :label="label"
            :value="form[key]"
            :least="least"
            :most="most"
            @keep="(v) => (form[key] = v ?? form[key])"
          />
        </template>
        <label for="o-weather">Sky</label>
        <el-select id="o-weather" v-model="form.weather">
          <el-option v-for="w in WEATHER" :key="w" :value="w" :label="w" />
        </el-select>
        <label for="o-skies">Day by day</label>
        <div id="o-skies" class="skies" role="group" aria-label="The sky day by day">
          <el-select
            v-for="(w, i) in form.skies"
            :key="i"
            :model-value="w"
            :aria-label="`Sky of day ${i + 1}`"
            @update:model-value="setSky(i, $event)"
          >
            <el-option v-for="x in WEATHER" :key="x" :value="x" :label="x" />
          </el-select>
          <el-button class="btn tiny" @click="form.skies = [...form.skies, form.skies.at(-1) ?? form.weather]">
            {{ form.skies.length ? 'Another day' : 'It changes by the day' }}
          </el-button>
          <el-button v-if="form.skies.length" class="btn tiny" @click="form.skies = form.skies.slice(0, -1)">
            One less
          </el-button>
        </div>
        <label for="o-iced">Ice or snow on panels (hours)</label>
        <el-input-number id="o-iced" v-model="form.iced_h" :min="0" :max="336" :step="6" />
      </div>
      <div class="form-end">
        <el-button v-if="existing && many" class="btn" @click="remove">Remove</el-button>
        <el-button class="btn" @click="emit('close')">Cancel</el-button>
        <el-button native-type="submit" class="btn strong" :disabled="!form.name.trim()">Save</el-button>
      </div>
    </form>
  </el-dialog>
</template>

<style scoped>
.skies {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
.skies .el-select {
  width: 104px;
}
</style>

<script setup lang="ts">
import { computed } from 'vue'
import { useCatalogue } from '@/features/equipment/useCatalogue'
import { blanks } from '@/shared/api/blanks'
import type { Bank, Op, Plan, Source, Station, Window } from '@/shared/api/types'
import { freshId } from '@/shared/ids'
import { escape } from '@/shared/session/patch'
import { edit } from '@/shared/session/session'
import { amount } from '@/shared/units/format'
import BankBranches from './BankBranches.vue'
import KeptInput from '@/shared/ui/fields/KeptInput.vue'
import WindowsEditor from '@/shared/ui/fields/WindowsEditor.vue'

/** Banks of bare batteries that give direct current to a station's solar input. */
const props = defineProps<{ plan: Plan; source: Source; station: Station }>()
const catalogue = useCatalogue()
const batteries = computed(() => Object.values(catalogue.data.value?.catalogue.batteries ?? {}))
const mine = computed(() => batteries.value.filter((b) => b.currency === props.station.currency))
const banks = computed(() => Object.values(props.plan.banks).filter((b) => b.to === props.source.id))
const kind = (bank: Bank) => batteries.value.find((b) => b.id === bank.battery)

function add() {
  const battery = mine.value[0] ?? batteries.value[0]
  if (!battery) return
  const id = freshId('bank', [...Object.values(props.plan.banks), ...Object.values(props.plan.sources)])
  const used = [...Object.values(props.plan.arrays).filter((a) => a.source === props.source.id), ...banks.value].map(
    (x) => x.input,
  )
  const input = Array.from({ length: 12 }, (_, i) => i + 1).find((i) => !used.includes(i)) ?? 1
  const value: Bank = {
    ...structuredClone(blanks.bank),
    id,
    name: `Bank${banks.value.length ? ` ${banks.value.length + 1}` : ''}`,
    battery: battery.id,
    to: props.source.id,
    input,
  }
  edit(`Bank of ${battery.name}`, [{ doc: props.plan.id, op: 'add', path: `/banks/${escape(id)}`, value }])
}
function set<K extends keyof Bank>(bank: Bank, field: K, value: Bank[K], words: string) {
  if (value === bank[field]) return
  const op: Op = { doc: props.plan.id, op: 'replace', path: `/banks/${escape(bank.id)}/${field}`, value }
  edit(`${bank.name}: ${words}`, [op])
}
function remove(bank: Bank) {
  const arrays = Object.values(props.plan.arrays).filter((a) => a.source === bank.id)
  edit(`Without ${bank.name}`, [
    ...arrays.map((a): Op => ({ doc: props.plan.id, op: 'remove', path: `/arrays/${escape(a.id)}` })),
    { doc: props.plan.id, op: 'remove', path: `/banks/${escape(bank.id)}` },
  ])
}
const GIVES = {
  always: 'whenever the station needs it',
  night: 'at night, and the array by day',
  hours: 'in set hours',
  low_sun: 'while the array supplies little',
} as const
const EVENING: Window[] = [{ start_h: 18, end_h: 22, days: 'all' }]
/** Set hours need hours to begin with. */
function gives(bank: Bank, by: Bank['by']) {
  const ops: Op[] = [{ doc: props.plan.id, op: 'replace', path: `/banks/${escape(bank.id)}/by`, value: by }]
  if (by === 'hours' && !bank.windows.length)
    ops.push({ doc: props.plan.id, op: 'replace', path: `/banks/${escape(bank.id)}/windows`, value: EVENING })
  edit(`${bank.name} ${GIVES[by]}`, ops)
}
</script>

<template>
  <details class="banks" :open="banks.length > 0">
    <summary>Banks of bare batteries on its solar inputs</summary>
    <article v-for="b in banks" :key="b.id">
      <KeptInput :value="b.name" label="Bank name" maxlength="80" @keep="$event && set(b, 'name', $event, $event)" />
      <el-select
        :model-value="b.battery"
        aria-label="Battery"
        @update:model-value="set(b, 'battery', $event, 'another battery')"
      >
        <el-option
          v-for="k in batteries"
          :key="k.id"
          :value="k.id"
          :label="`${k.name}, ${amount(k.volts)} V ${amount(k.ah)} Ah`"
        />
      </el-select>
      <div class="form">
        <label :for="`series-${b.id}`">in series</label>
        <el-input-number
          :id="`series-${b.id}`"
          :model-value="b.series"
          :min="1"
          :max="40"
          @change="set(b, 'series', Number($event), `${$event} in series`)"
        />
        <label :for="`parallel-${b.id}`">side by side</label>
        <el-input-number
          :id="`parallel-${b.id}`"
          :model-value="b.parallel"
          :min="1"
          :max="20"
          @change="set(b, 'parallel', Number($event), `${$event} side by side`)"
        />
        <label :for="`input-${b.id}`">solar input</label>
        <el-input-number
          :id="`input-${b.id}`"
          :model-value="b.input"
          :min="1"
          :max="12"
          @change="set(b, 'input', Number($event), `solar input ${$event}`)"
        />
        <label :for="`amps-${b.id}`">highest output (A)</label>
        <el-input-number
          :id="`amps-${b.id}`"
          :model-value="b.amps"
          :min="0"
          :max="400"
          @change="set(b, 'amps', Number($event), `${$event} A at most`)"
        />
        <label :for="`fuse-${b.id}`">fuse (A)</label>
        <el-input-number
          :id="`fuse-${b.id}`"
          :model-value="b.fuse_a"
          :min="0"
          :max="400"
          @change="set(b, 'fuse_a', Number($event), `${$event} A fuse`)"
        />
        <label :for="`controller-${b.id}`">own controller (W)</label>
        <el-input-number
          :id="`controller-${b.id}`"
          :model-value="b.controller_w"
          :min="0"
          :max="20000"
          :step="100"
          @change="set(b, 'controller_w', Number($event), `a ${$event} W controller`)"
        />
      </div>
      <BankBranches :bank="b" :batteries="batteries" @change="(others, words) => set(b, 'others', others, words)" />
      <el-select :model-value="b.by" aria-label="When it supplies power" @update:model-value="gives(b, $event)">
        <el-option v-for="(text_, by) in GIVES" :key="by" :value="by" :label="text_" />
      </el-select>
      <WindowsEditor
        v-if="b.by === 'hours'"
        :model-value="b.windows as Window[]"
        @update:model-value="$event.length ? set(b, 'windows', $event, 'other hours') : gives(b, 'always')"
      />
      <div v-if="b.by === 'low_sun'" class="form">
        <label :for="`below-${b.id}`">Array below (W)</label>
        <el-input-number
          :id="`below-${b.id}`"
          :model-value="b.below_w"
          :min="0"
          :max="5000"
          :step="10"
          @change="set(b, 'below_w', Number($event), `below ${$event} W`)"
        />
      </div>
      <p v-if="kind(b)" class="soft small">
        {{ b.series * b.parallel }} × {{ kind(b)?.name }}. Ask the manufacturer first, because this input is made for
        panels.
      </p>
      <el-button class="link small" @click="remove(b)">remove {{ b.name }}</el-button>
    </article>
    <el-button v-if="batteries.length && station.solar_inputs" class="btn" @click="add">Add a bank</el-button>
    <p v-else-if="!station.solar_inputs" class="soft small">{{ station.name }} has no solar input.</p>
  </details>
</template>

<style scoped>
.banks {
  margin-top: 12px;
}
summary {
  cursor: pointer;
}
article > .el-input {
  font-weight: 600;
}
article {
  display: grid;
  gap: 5px;
  margin: 8px 0 12px;
  padding-left: 9px;
  border-left: 5px solid var(--stored);
}
.form {
  grid-template-columns: minmax(0, 1fr) 124px;
}
.form :deep(.el-input-number) {
  width: 124px;
}
.link {
  justify-self: start;
}
p {
  margin: 2px 0;
}
</style>

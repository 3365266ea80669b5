<script setup lang="ts">
import { computed } from 'vue'
import type { ModuleKind, Op, Plan, Source, Station, StationView, PlanPath } from '@/shared/api/types'
import { escape } from '@/shared/session/patch'
import { edit } from '@/shared/session/session'
import { amount, hoursText, kwh, money, number, percent } from '@/shared/units/format'
import Fig from '@/shared/ui/Fig.vue'
import { measured } from '@/shared/units/measures'
import Choice from '@/shared/ui/fields/Choice.vue'

/** The picked station: modules with what each buys, where it stands, floor and losses. */
const props = defineProps<{ plan: Plan; source: Source; view: StationView; kinds: ModuleKind[] }>()
const emit = defineEmits<{ pick: [number] }>()

const station = computed(() => props.view.station as Station)
const longest = computed(() => Math.max(1, ...props.view.options.map((o) => o.hours ?? 0)))

function set(path: PlanPath, value: unknown, label: string) {
  const op: Op = { doc: props.plan.id, op: 'replace', path, value }
  edit(label, [op])
}
/** Ways the maker lets units stand together: side by side, or a leg each by its coupler. */
const links = computed(() => {
  const s = station.value
  const beside = Array.from({ length: s.parallel_most - 1 }, (_, i) => ({
    key: `parallel:${i + 2}`,
    text: `${i + 2}, side by side`,
  }))
  const pair = s.coupler && s.volts === '120' ? [{ key: 'coupler:2', text: 'a pair, one leg each' }] : []
  const now = `${props.source.link}:${props.source.units}`
  const known = [{ key: 'parallel:1', text: '1' }, ...beside, ...pair]
  return known.some((l) => l.key === now) ? known : [...known, { key: now, text: `${props.source.units}, not listed` }]
})
function link(key: string) {
  const [how = 'parallel', count = '1'] = key.split(':')
  const units = Number(count)
  const most = station.value.max_modules * units
  const ops: Op[] = [
    { doc: props.plan.id, op: 'replace', path: at('units'), value: units },
    { doc: props.plan.id, op: 'replace', path: at('link'), value: how },
  ]
  if (props.source.modules > most) ops.unshift({ doc: props.plan.id, op: 'replace', path: at('modules'), value: most })
  edit(`${station.value.name}: ${links.value.find((l) => l.key === key)?.text ?? key}`, ops)
}
const ownKind = computed(() => props.kinds.filter((k) => k.currency === station.value.currency))
const moduleName = computed(
  () => props.kinds.find((k) => k.id === props.source.module)?.name ?? station.value.module_name,
)
const OWN = 'own' // the select takes an empty value for none
function fit(kind: string) {
  const name = props.kinds.find((k) => k.id === kind)?.name
  set(at('module'), kind === OWN ? null : kind, `Modules: ${name ?? 'its own'}`)
}
const at = (field: keyof Source) => `/sources/${escape(props.source.id)}/${field}` as const
/** The one that is picked: with its modules. */
const picked = computed(
  () => props.view.options.find((o) => o.modules === props.source.modules) ?? props.view.options[0],
)
const buys = (o: StationView['options'][number]) => (o.gained_h === null ? '' : `+${hoursText(o.gained_h)}`)
const facts = computed<[string, string][]>(() => {
  const s = station.value
  return [
    ['Output', `${number(s.continuous_w)} W${s.rated_va ? `, ${number(s.rated_va)} VA` : ', VA not listed'}`],
    [s.volts === '120/240' ? 'Each leg' : 'Output current', s.leg_a ? `${amount(s.leg_a)} A` : 'not listed'],
    [
      'Surge',
      s.surge_va
        ? `${number(s.surge_va)} VA${s.surge_s ? ` for ${s.surge_s} s` : ', length not listed'}`
        : 'not listed',
    ],
    ['Conversion', percent(s.efficiency)],
    ['Own draw', `${number(picked.value?.own_w ?? 0)} W`],
    ['From the wall', picked.value?.charger_w ? `${number(picked.value.charger_w)} W` : 'not listed'],
    [
      'Solar inputs',
      `${s.solar_inputs} of ${number(s.solar_max_w)} W, ${number(s.solar_max_v)} V, ${number(s.solar_max_a)} A`,
    ],
    [
      'Supplies power',
      `${measured('temperature', s.discharge_min_c)} to ${measured('temperature', s.discharge_max_c)}`,
    ],
    ['After running out', s.restart === 'by_itself' ? 'restarts by itself' : 'someone has to switch it on'],
    ['Switches over', s.transfer_ms === null ? 'unlisted' : `in ${number(s.transfer_ms)} ms`],
    ['Outlets', s.outlets ? `${s.outlets} of ${amount(s.outlet_a)} A` : 'not listed'],
    ['DC ports', s.dc_port_v ? `${amount(s.dc_port_v)} V, up to ${amount(s.dc_port_a)} A` : 'none listed'],
    ...(s.dc_ports ? ([['Other DC ports (V: A)', s.dc_ports]] as [string, string][]) : []),
    ...(s.parts ? ([['Priced separately', s.parts]] as [string, string][]) : []),
    ...(s.work_h ? ([['Building time', `${amount(s.work_h)} h of your own work`]] as [string, string][]) : []),
    ...(s.promised ? ([['Announced, so not counted', s.promised]] as [string, string][]) : []),
    [
      'Warranty',
      [s.warranty_years && `${s.warranty_years} years`, s.cycle_life && `${number(s.cycle_life)} cycles`]
        .filter(Boolean)
        .join(', ') || 'not listed',
    ],
  ]
})
const SETTINGS: [string, string][] = [
  ['auto_off', 'auto-off'],
  ['charge_w', 'charging watts'],
  ['floor', 'the stop level'],
  ['outputs', 'turning outputs on and off'],
  ['transfer', 'time to switch to backup'],
]
function live(key: string, text: string, where: string) {
  const path = `/lives/${escape(key)}` as const
  const known = key in props.plan.lives
  if (!where && !known) return
  const op: Op = where
    ? { doc: props.plan.id, op: known ? 'replace' : 'add', path, value: where }
    : { doc: props.plan.id, op: 'remove', path }
  edit(`Where it is set: ${text}`, [op])
}
const isFigure = (text: string) => /\d/.test(text)
</script>

<template>
  <aside>
    <h2>{{ station.name }}</h2>
    <div class="modules" role="group" :aria-label="`Modules of ${station.name}`">
      <el-button
        v-for="o in view.options"
        :key="o.modules"
        :class="{ now: o.modules === source.modules }"
        :aria-pressed="o.modules === source.modules"
        @click="emit('pick', o.modules)"
      >
        <span>{{ o.modules ? `+ ${o.modules} ${moduleName}` : 'alone' }}</span>
        <i aria-hidden="true"><i :style="{ width: `${(100 * (o.hours ?? longest)) / longest}%` }"></i></i>
        <span class="small"
          ><Fig :text="kwh(o.nominal_wh)" /><template v-if="buys(o)"> · <Fig :text="buys(o)" /></template
          ><template v-if="o.more !== null"> · <Fig :text="money(o.more, station.currency)" /></template
        ></span>
      </el-button>
    </div>
    <div class="form settings">
      <template v-if="links.length > 1">
        <label for="s-units">Units</label>
        <el-select id="s-units" :model-value="`${source.link}:${source.units}`" @update:model-value="link">
          <el-option v-for="l in links" :key="l.key" :value="l.key" :label="l.text" />
        </el-select>
      </template>
      <template v-if="station.max_modules && ownKind.length">
        <label for="s-module">Modules</label>
        <el-select id="s-module" :model-value="source.module ?? OWN" @update:model-value="fit">
          <el-option :value="OWN" :label="`${station.module_name}, its own`" />
          <el-option v-for="k in ownKind" :key="k.id" :value="k.id" :label="`${k.name}, ${k.battery_v} V`" />
        </el-select>
      </template>
      <label for="s-spot">Location</label>
      <el-select
        id="s-spot"
        :model-value="source.spot"
        @update:model-value="set(at('spot'), $event, `Station ${$event === 'garage' ? 'in the garage' : 'indoors'}`)"
      >
        <el-option value="indoors" label="indoors" />
        <el-option value="garage" label="in the garage" />
      </el-select>
      <label for="s-floor">Stop level (%)</label>
      <el-input-number
        id="s-floor"
        :model-value="Math.round(plan.floor * 100)"
        :min="0"
        :max="90"
        :step="5"
        @change="set('/floor', Number($event) / 100, `Stop level ${$event}%`)"
      />
      <label for="s-health">Health (%)</label>
      <el-input-number
        id="s-health"
        :model-value="Math.round(source.health * 100)"
        :min="30"
        :max="100"
        :step="5"
        @change="set(at('health'), Number($event) / 100, `Health ${$event}%`)"
      />
      <template v-if="station.vehicle">
        <label for="s-drive">Energy for the drive (Wh)</label>
        <el-input-number
          id="s-drive"
          :model-value="source.drive_wh"
          :min="0"
          :max="1000000"
          :step="1000"
          @change="set(at('drive_wh'), Number($event), `Kept for the drive: ${$event} Wh`)"
        />
      </template>
      <label for="s-hand">Noticed within (h)</label>
      <el-input-number
        id="s-hand"
        :model-value="plan.reaction_h"
        :min="0"
        :max="24"
        :step="0.5"
        @change="set('/reaction_h', Number($event), `Someone comes after ${$event} h`)"
      />
      <label for="s-loss">Losses</label>
      <el-select
        id="s-loss"
        :model-value="plan.losses"
        @update:model-value="set('/losses', $event, 'Way of counting losses')"
      >
        <el-option value="percent_and_idle" label="conversion and own use separately" />
        <el-option value="one_efficiency" label="one efficiency, 85%" />
      </el-select>
    </div>
    <el-checkbox
      class="check"
      :model-value="source.owned"
      @change="set(at('owned'), !source.owned, source.owned ? 'Station: to buy' : 'Station: already owned')"
      >already owned, costs nothing</el-checkbox
    >
    <el-checkbox
      class="check"
      :model-value="plan.below_floor"
      @change="
        set(
          '/below_floor',
          !plan.below_floor,
          plan.below_floor ? 'The stop level holds' : 'Below the stop level in an emergency',
        )
      "
      >in an emergency, below the stop level</el-checkbox
    >
    <p v-if="plan.below_floor" class="small care">
      Hours now count on the last {{ percent(plan.floor) }} too. This wears the cells, and a fully drained station may
      not start until you charge it from outside. Use it for one bad night, not for every outage.
    </p>
    <slot />
    <details>
      <summary>Where to find each setting</summary>
      <label v-for="[key, text] in SETTINGS" :key="key" class="lives">
        <span>{{ text }}</span>
        <Choice :model-value="plan.lives[key] ?? ''" @change="live(key, text, $event)">
          <el-option value="" label="not checked" />
          <el-option value="device" label="on the device" />
          <el-option value="app" label="in its app" />
          <el-option value="remote" label="on a remote display" />
        </Choice>
      </label>
      <p class="soft small">
        Features in an app may need the network, so try each with the network off. A feature that is only promised isn’t
        counted.
      </p>
    </details>
    <dl>
      <template v-for="[name, text] in facts" :key="name">
        <dt>{{ name }}</dt>
        <dd>
          <span :data-figure="isFigure(text) ? '' : undefined">{{ text }}</span>
        </dd>
      </template>
    </dl>
    <p v-if="station.dc_port_v" class="soft small">
      Small loads made for {{ amount(station.dc_port_v) }} V can run from a DC port with the AC output off, which saves
      the inverter’s own draw. Measure the port before you plug in a low-voltage device; a car socket is rated for less
      than its shape suggests. A feature that lowers the output’s voltage suits plain heaters only: it harms motors.
    </p>
    <p class="soft small">
      Shipped stations are made up, for trying. Real capacity, as a share of the label:
      <Fig :text="percent(source.deliverable)" /> (planning default).
    </p>
  </aside>
</template>

<style scoped>
.modules {
  display: grid;
  gap: 4px;
  margin: 10px 0 14px;
}
.modules button {
  display: grid;
  grid-template-columns: 82px 1fr;
  gap: 0 8px;
  align-items: center;
  padding: 5px 10px;
  border: 1px solid var(--line);
  border-radius: 7px;
  background: var(--sheet);
  text-align: left;
}
.modules button:hover {
  border-color: var(--ink);
}
.modules .now {
  border-color: var(--deep);
  box-shadow: inset 5px 0 var(--stored);
}
.modules > button > i {
  height: 7px;
  border-radius: 4px;
  background: var(--spine);
}
.modules > button > i > i {
  display: block;
  height: 100%;
  border-radius: 4px;
  background: var(--stored);
}
.modules .small {
  grid-column: 1 / -1;
  color: var(--soft);
}
.check {
  display: flex;
  gap: 7px;
  align-items: center;
  margin-top: 7px;
  font-size: 13px;
}
details {
  margin-top: 10px;
}
summary {
  cursor: pointer;
}
.lives {
  display: grid;
  grid-template-columns: 1fr 130px;
  gap: 8px;
  align-items: center;
  margin-top: 4px;
  font-size: 13px;
}
.care {
  margin: 4px 0;
  padding-left: 9px;
  border-left: 5px solid var(--dark);
}
.settings {
  grid-template-columns: 82px 1fr;
}
dl {
  display: grid;
  grid-template-columns: max-content 1fr;
  gap: 3px 12px;
  margin: 14px 0 10px;
  font-size: 13px;
}
dt {
  color: var(--soft);
}
dd {
  margin: 0;
}
</style>

<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Source, Station, StationView } from '@/shared/api/types'
import { amount, hoursText, kwh, money, number, percent } from '@/shared/units/format'
import Fig from '@/shared/ui/Fig.vue'

/** Every station of the house's voltage, with what it does to the hours; sorted by any column. */
const props = defineProps<{ stations: StationView[]; source: Source | null; simulated: number }>()
const emit = defineEmits<{ pick: [Station, number] }>()

type Option = StationView['options'][number]
interface Row {
  station: Station
  option: Option
  now: boolean
}
const sort = ref<{ key: string; up: boolean }>({ key: 'hours', up: false })

const rows = computed<Row[]>(() => {
  const list = props.stations.map((view) => {
    const station = view.station as Station
    const now = props.source?.station === station.id
    const modules = now ? (props.source?.modules ?? 0) : Math.min(props.source?.modules ?? 0, station.max_modules)
    return { station, now, option: view.options[modules] ?? view.options[0] } as Row
  })
  const column = COLUMNS.find((c) => c.key === sort.value.key)
  if (!column) return list
  return list.sort((a, b) => (column.value(a) - column.value(b)) * (sort.value.up ? 1 : -1))
})

const reached = (o: Option) => (o.state !== 'runs' ? -1 : (o.hours ?? Infinity))
function hours(o: Option): string {
  if (o.state === 'runs') return o.hours === null ? `over ${hoursText(props.simulated)}` : hoursText(o.hours)
  const words: Record<string, string> = {
    trips: 'will trip',
    carry_240: 'no 240 V',
    misfit: 'does not fit',
    too_cold: 'too cold',
  }
  return words[o.state] ?? (o.state === 'nothing_chosen' ? 'nothing fed' : 'refused')
}

const COLUMNS: { key: string; label: string; value: (r: Row) => number; text: (r: Row) => string; plain?: boolean }[] =
  [
    { key: 'hours', label: 'Hours', value: (r) => reached(r.option), text: (r) => hours(r.option) },
    { key: 'wh', label: 'Stores', value: (r) => r.option.nominal_wh, text: (r) => kwh(r.option.nominal_wh) },
    {
      key: 'w',
      label: 'Continuous',
      value: (r) => r.station.continuous_w,
      text: (r) => `${number(r.station.continuous_w / 1000, 1)} kW`,
    },
    {
      key: 'surge',
      label: 'Surge',
      value: (r) => r.station.surge_va,
      text: (r) => `${number(r.station.surge_va / 1000, 1)} kVA`,
    },
    { key: 'idle', label: 'Own draw', value: (r) => ownDraw(r), text: (r) => `${percent(ownDraw(r))} a day` },
    { key: 'kg', label: 'Weight', value: (r) => r.station.weight_kg, text: (r) => `${amount(r.station.weight_kg)} kg` },
    {
      key: 'price',
      label: 'Price',
      value: (r) => Number(r.option.price),
      text: (r) => money(r.option.price, r.station.currency),
    },
  ]

/** The share of the store that the station and its modules take for themselves in a day. */
function ownDraw(r: Row): number {
  return (24 * (r.station.idle_w + r.option.modules * r.station.module_draw_w)) / r.option.nominal_wh
}
function sortBy(key: string) {
  sort.value = { key, up: sort.value.key === key ? !sort.value.up : key === 'price' || key === 'kg' || key === 'idle' }
}
const isFigure = (text: string) => /\d/.test(text)
</script>

<template>
  <table aria-label="Stations">
    <thead>
      <tr>
        <th scope="col">Station</th>
        <th
          v-for="c in COLUMNS"
          :key="c.key"
          scope="col"
          class="num"
          :aria-sort="sort.key === c.key ? (sort.up ? 'ascending' : 'descending') : 'none'"
        >
          <button class="link" @click="sortBy(c.key)">
            {{ c.label }}<span v-if="sort.key === c.key" aria-hidden="true">{{ sort.up ? ' ↑' : ' ↓' }}</span>
          </button>
        </th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="r in rows" :key="r.station.id" :class="{ now: r.now }">
        <th scope="row">
          <button class="pick" :aria-pressed="r.now" @click="emit('pick', r.station, r.option.modules)">
            <b>{{ r.station.name }}</b>
            <small>
              {{ r.station.volts }} V<template v-if="r.option.modules"
                >, with {{ r.option.modules }} {{ r.station.module_name }}</template
              >
            </small>
          </button>
        </th>
        <td
          v-for="c in COLUMNS"
          :key="c.key"
          class="num"
          :class="[c.key, { short: c.key === 'hours' && r.option.state !== 'runs' }]"
        >
          <Fig v-if="isFigure(c.text(r)) && c.text(r) !== 'no 240 V'" :text="c.text(r)" />
          <template v-else>{{ c.text(r) }}</template>
          <small v-if="c.key === 'hours'" class="why">{{ r.option.neck }}</small>
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
table {
  width: 100%;
  border-collapse: collapse;
}
thead th {
  position: sticky;
  top: 0;
  padding: 4px 6px 8px;
  background: var(--paper);
  color: var(--soft);
  font-weight: 400;
  font-size: 12.5px;
  text-align: left;
}
thead .link {
  text-decoration-color: var(--line-strong);
}
.num,
thead th.num {
  text-align: right;
}
td,
tbody th {
  padding: 8px 6px;
  border-top: 1px solid var(--line);
  font-weight: 400;
  vertical-align: top;
}
.pick {
  display: grid;
  padding: 0 0 0 10px;
  border: 0;
  border-left: 6px solid transparent;
  background: none;
  text-align: left;
}
.pick b {
  font: 650 16px var(--head);
}
.pick:hover b {
  text-decoration: underline;
}
.now .pick {
  border-left-color: var(--stored);
}
.now {
  background: var(--sheet);
}
.hours {
  font-weight: 650;
  min-width: 120px;
}
.short {
  color: var(--dark);
}
.why {
  display: block;
  font-weight: 400;
  color: var(--soft);
}
small {
  color: var(--soft);
}
</style>

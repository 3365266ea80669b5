<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Source, Station, StationView } from '@/shared/api/types'
import Fig from '@/shared/ui/Fig.vue'
import { stationColumns, type StationRow } from '../stationColumns'

/** Every station of the house's voltage, with what it does to the hours; sorted by any column.
 * `all`: every column is shown. */
const props = defineProps<{ stations: StationView[]; source: Source | null; simulated: number }>()
const emit = defineEmits<{ pick: [Station, number] }>()

const sort = ref<{ key: string; up: boolean }>({ key: 'hours', up: false })

const rows = computed<StationRow[]>(() => {
  const list = props.stations.map((view) => {
    const station = view.station as Station
    const now = props.source?.station === station.id
    const modules = now ? (props.source?.modules ?? 0) : Math.min(props.source?.modules ?? 0, station.max_modules)
    return { station, now, option: view.options[modules] ?? view.options[0] } as StationRow
  })
  const column = COLUMNS.value.find((c) => c.key === sort.value.key)
  if (!column) return list
  return list.sort((a, b) => (column.value(a) - column.value(b)) * (sort.value.up ? 1 : -1))
})

const all = defineModel<boolean>('all', { default: false })
const COLUMNS = computed(() => stationColumns(props.simulated))
const columns = computed(() => COLUMNS.value.filter((c) => all.value || !c.more))

function sortBy(key: string) {
  sort.value = { key, up: sort.value.key === key ? !sort.value.up : key === 'price' || key === 'kg' || key === 'idle' }
}
const isFigure = (text: string) => /\d/.test(text)
</script>

<template>
  <el-checkbox v-model="all" class="all">every column</el-checkbox>
  <table aria-label="Stations" :class="{ wide: all }">
    <thead>
      <tr>
        <th scope="col">Station</th>
        <th
          v-for="c in columns"
          :key="c.key"
          scope="col"
          class="num"
          :aria-sort="sort.key === c.key ? (sort.up ? 'ascending' : 'descending') : 'none'"
        >
          <el-button class="link" @click="sortBy(c.key)">
            {{ c.label }}<span v-if="sort.key === c.key" aria-hidden="true">{{ sort.up ? ' ↑' : ' ↓' }}</span>
          </el-button>
        </th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="r in rows" :key="r.station.id" :class="{ now: r.now }">
        <th scope="row">
          <el-button class="pick" :aria-pressed="r.now" @click="emit('pick', r.station, r.option.modules)">
            <b>{{ r.station.name }}</b>
            <small>
              {{ r.station.volts }} V<template v-if="r.option.modules"
                >, with {{ r.option.modules }} {{ r.station.module_name }}</template
              >
            </small>
          </el-button>
        </th>
        <td
          v-for="c in columns"
          :key="c.key"
          class="num"
          :class="[c.key, { short: c.key === 'hours' && r.option.state !== 'runs' }]"
        >
          <span class="of">{{ c.label }}</span>
          <Fig v-if="isFigure(c.text(r)) && c.text(r) !== 'no 240 V'" :text="c.text(r)" />
          <template v-else>{{ c.text(r) }}</template>
          <small v-if="c.key === 'hours'" class="why">{{ r.option.neck }}</small>
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.all {
  display: block;
  margin-bottom: 4px;
  color: var(--soft);
  text-align: right;
}
table {
  width: 100%;
  border-collapse: collapse;
}
.wide th:first-child {
  position: sticky;
  left: 0;
  background: var(--paper);
}
.wide .now th:first-child {
  background: var(--sheet);
}
.wide td {
  white-space: nowrap;
}
.wide .why {
  display: none;
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
.of {
  display: none;
}
/* A station is a card where the columns have no room: each figure on a line of its own, by its name. */
@media (max-width: 760px) {
  .all,
  thead {
    display: none;
  }
  table,
  tbody,
  tr,
  td,
  tbody th {
    display: block;
  }
  tr {
    margin: 0 0 10px;
    padding: 8px 10px;
    border: 1px solid var(--line);
    border-radius: 9px;
    background: var(--sheet);
  }
  .now {
    border: 2px solid var(--stored);
  }
  td,
  tbody th {
    padding: 3px 0;
    border: 0;
  }
  td.num {
    display: flex;
    flex-wrap: wrap;
    gap: 0 10px;
    justify-content: space-between;
  }
  .of {
    display: inline;
    color: var(--soft);
    font-weight: 400;
  }
  .why {
    flex: 1 1 100%;
    text-align: left;
  }
}
</style>

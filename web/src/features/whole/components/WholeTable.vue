<script setup lang="ts">
import { useLocalStorage } from '@vueuse/core'
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import EvidenceMark from '@/shared/ui/EvidenceMark.vue'
import Fig from '@/shared/ui/Fig.vue'
import type { WholeView } from '@/shared/api/types'
import { useSession } from '@/shared/session/session'
import { kwh, watts } from '@/shared/units/format'

/** Every load by what it takes, and how it behaves on battery. */
const props = defineProps<{ loads: WholeView['loads'] }>()
const { home } = useSession()
const route = useRoute()
type Key = 'total' | 'night_wh' | 'run' | 'name'
const by = ref<Key>('total')
const TITLES: Record<string, string> = {
  'runs freely': 'uses under a twelfth of the station’s energy per day',
  'short use': 'a large element or a short task: use it alone, for minutes at a time',
  'not at night': 'uses over a seventh of the station’s energy per night',
  'steady draw': 'it adds up over the whole outage',
}
const rows = computed(() =>
  props.loads
    .map((l) => ({
      ...l,
      total: l.day_wh + l.night_wh,
      load: home.value?.loads[l.id],
      run: (home.value?.loads[l.id]?.run_w ?? 0) * (home.value?.loads[l.id]?.count ?? 1),
      name: home.value?.loads[l.id]?.name ?? l.id,
    }))
    .sort((a, b) => (by.value === 'name' ? a.name.localeCompare(b.name) : b[by.value] - a[by.value])),
)
/** The largest come first, and are most of the energy; the rest on demand, which is kept. */
const FIRST = 10
const whole = useLocalStorage('fold:whole/loads', false)
const shown = computed(() => (whole.value ? rows.value : rows.value.slice(0, FIRST)))
const HEAD: [Key, string][] = [
  ['name', 'Load'],
  ['total', 'A day'],
  ['night_wh', 'of it at night'],
  ['run', 'Running'],
]
const to = (id: string) => ({ name: 'house', params: route.params, query: { ...route.query, load: id } })
</script>

<template>
  <table>
    <thead>
      <tr>
        <th v-for="[key, text] in HEAD" :key="key" :aria-sort="by === key ? 'descending' : 'none'">
          <el-button class="link" @click="by = key">{{ text }}{{ by === key ? ' ▾' : '' }}</el-button>
        </th>
        <th>On battery</th>
        <th>How we know</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="r in shown" :key="r.id">
        <th scope="row">
          <RouterLink :to="to(r.id)">{{ r.name }}</RouterLink>
        </th>
        <td><Fig :text="kwh(r.total)" /></td>
        <td><Fig :text="kwh(r.night_wh)" /></td>
        <td>
          <Fig :text="watts(r.run)" /><span v-if="r.heating" class="heat" title="a large heating element"> heats</span>
        </td>
        <td class="word" :title="TITLES[r.word]">{{ r.nowhere || r.word }}</td>
        <td><EvidenceMark v-if="r.load" :evidence="r.load.evidence" /></td>
      </tr>
    </tbody>
  </table>
  <el-button v-if="rows.length > FIRST" class="btn tiny" :aria-expanded="whole" @click="whole = !whole">{{
    whole ? `Show the ${FIRST} at the top` : `Show all ${rows.length} loads`
  }}</el-button>
</template>

<style scoped>
table {
  width: 100%;
  border-collapse: collapse;
}
thead th {
  position: sticky;
  top: 0;
  background: var(--paper);
}
th {
  font-weight: 400;
  text-align: left;
}
td,
th {
  padding: 3px 8px;
  border-bottom: 1px solid var(--line);
}
td:nth-child(-n + 4) {
  text-align: right;
}
thead th:nth-child(n + 2):nth-child(-n + 4) {
  text-align: right;
}
tbody a {
  color: var(--ink);
  font-weight: 650;
  text-decoration: none;
}
tbody a:hover {
  text-decoration: underline;
}
thead .link {
  text-decoration: none;
  color: var(--soft);
}
.word,
td:nth-child(-n + 4) {
  white-space: nowrap;
}
.heat {
  color: var(--turns);
}
</style>

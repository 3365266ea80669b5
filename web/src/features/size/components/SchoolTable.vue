<script setup lang="ts">
import { computed } from 'vue'
import type { SchoolAnswer } from '@/shared/api/types'
import { kwh, watts } from '@/shared/units/format'
import Fig from '@/shared/ui/Fig.vue'

/** Each school's answer, its reasoning, where it misleads; the simulated need leads each group. */
const props = defineProps<{ schools: SchoolAnswer[] }>()
const NAMES = { inverter: 'Inverter', battery: 'Battery', solar: 'Panels' } as const
const groups = computed(() =>
  (['inverter', 'battery', 'solar'] as const)
    .map((part) => ({ part, rows: props.schools.filter((s) => s.part === part) }))
    .filter((g) => g.rows.length),
)
const text = (s: SchoolAnswer) => (s.value === null ? 'none' : s.unit === 'Wh' ? kwh(s.value) : watts(s.value))
</script>

<template>
  <section tabindex="0">
    <h2>By every method</h2>
    <table aria-label="Sizing methods">
      <template v-for="g in groups" :key="g.part">
        <tbody>
          <tr v-for="(s, i) in g.rows" :key="s.name" :class="{ sim: i === 0 }">
            <th v-if="i === 0" :rowspan="g.rows.length" scope="rowgroup">{{ NAMES[g.part] }}</th>
            <td>{{ s.name }}</td>
            <td class="num">
              <b><Fig :text="text(s)" /></b>
            </td>
            <td class="beside">{{ s.beside }}</td>
            <td class="soft">{{ s.how }} {{ s.misleads }}</td>
          </tr>
        </tbody>
      </template>
    </table>
  </section>
</template>

<style scoped>
table {
  margin-top: 4px;
  border-collapse: collapse;
}
td,
th {
  padding: 4px 16px 4px 0;
  border-bottom: 1px solid var(--line);
  text-align: left;
  vertical-align: top;
  font-weight: 400;
}
th {
  font: 650 15px var(--head);
}
.num,
.beside {
  white-space: nowrap;
}
.num {
  text-align: right;
}
.sim td {
  border-top: 2px solid var(--stored);
  font-weight: 650;
}
.sim td.soft {
  font-weight: 400;
}
@media (max-width: 760px) {
  section {
    overflow-x: auto;
  }
}
</style>

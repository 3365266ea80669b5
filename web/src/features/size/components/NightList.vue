<script setup lang="ts">
import { computed } from 'vue'
import { useSession } from '@/shared/session/session'
import type { ByHandView, OwnNumbers } from '@/shared/api/types'
import Fig from '@/shared/ui/Fig.vue'
import Choice from '@/shared/ui/fields/Choice.vue'
import HourChoice from '@/shared/ui/fields/HourChoice.vue'
import KeptInput from '@/shared/ui/fields/KeptInput.vue'
import { hoursText, kwh, number, parseNumber } from '@/shared/units/format'

/** What runs through the night, added up, with the hours that it leaves; each load can be left out. */
type Night = OwnNumbers['night']
const props = defineProps<{ night: Night; sum: ByHandView['night'] | null; says: string }>()
const emit = defineEmits<{ change: [Night, string] }>()
const { home, problem } = useSession()
const others = computed(() =>
  Object.values(home.value?.loads ?? {})
    .filter((l) => !props.night.loads.includes(l.id))
    .sort((a, b) => a.name.localeCompare(b.name)),
)
function add(id: string) {
  const name = home.value?.loads[id]?.name ?? id
  emit('change', { ...props.night, loads: [...props.night.loads, id] }, `Night list: ${name}`)
}
function drop(id: string, name: string) {
  emit('change', { ...props.night, loads: props.night.loads.filter((x) => x !== id) }, `Night list: without ${name}`)
}
function told(key: 'told_w' | 'told_wh', typed: string, scale: number, unit: string, most: number) {
  if (!typed) return emit('change', { ...props.night, [key]: null }, 'Night list: no total')
  const parsed = parseNumber(typed)
  if (!parsed.ok || parsed.value < 0 || parsed.value > most) {
    problem.value = `Night list, total: ${parsed.ok ? `enter 0 to ${number(most)} ${unit}` : parsed.why}.`
    return
  }
  emit('change', { ...props.night, [key]: parsed.value * scale }, `Night list: told ${number(parsed.value, 2)} ${unit}`)
}
const without = (line: NonNullable<ByHandView['night']>['lines'][number]) =>
  line.without.map((h) => (h === null ? 'nothing else in the list' : hoursText(h))).join(', ')
</script>

<template>
  <section class="night">
    <h4>Night list</h4>
    <div class="row">
      <label
        >From
        <HourChoice
          :hour="night.from_h"
          label="Night from"
          @change="emit('change', { ...night, from_h: $event }, 'Night list: from')"
      /></label>
      <label
        >to
        <HourChoice
          :hour="night.to_h"
          label="Night to"
          @change="emit('change', { ...night, to_h: $event }, 'Night list: to')"
      /></label>
      <label
        >Add
        <Choice :model-value="''" label="Add a load to the night list" filterable placeholder="a load" @change="add">
          <el-option v-for="l in others" :key="l.id" :value="l.id" :label="l.name" /> </Choice
      ></label>
      <label
        >Told
        <KeptInput
          :value="night.told_w ?? ''"
          label="Told total, W"
          inputmode="decimal"
          placeholder="a total"
          @keep="told('told_w', $event, 1, 'W', 50000)"
        >
          <template #suffix>W</template>
        </KeptInput></label
      >
      <label
        >or
        <KeptInput
          :value="night.told_wh === null || night.told_wh === undefined ? '' : night.told_wh / 1000"
          label="Told total, kWh"
          inputmode="decimal"
          placeholder="a night"
          @keep="told('told_wh', $event, 1000, 'kWh', 1000)"
        >
          <template #suffix>kWh</template>
        </KeptInput></label
      >
    </div>
    <p v-if="!sum" class="soft small">Add the loads that run through the night, one after the other.</p>
    <template v-else>
      <p data-test="night">{{ says }}</p>
      <p v-for="s in sum.says" :key="s" data-test="told">{{ s }}</p>
      <table aria-label="Night list">
        <thead>
          <tr>
            <th scope="col">Load</th>
            <th scope="col" class="num">While it runs</th>
            <th scope="col" class="num">In the night</th>
            <th scope="col" class="num">Without it</th>
            <th scope="col"><span class="sr">What to do</span></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="l in sum.lines" :key="l.load">
            <th scope="row">{{ l.name }}<small v-if="!l.powered" class="soft">, not powered by this plan</small></th>
            <td class="num"><Fig :text="`${number(l.run_w, 1)} W`" /></td>
            <td class="num"><Fig :text="kwh(l.wh)" /></td>
            <td class="num"><Fig :text="without(l)" /></td>
            <td>
              <el-button class="link" :aria-label="`Take ${l.name} off the night list`" @click="drop(l.load, l.name)"
                >Remove</el-button
              >
            </td>
          </tr>
        </tbody>
      </table>
    </template>
  </section>
</template>

<style scoped>
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 14px;
  align-items: center;
}
.row label {
  display: flex;
  gap: 6px;
  align-items: center;
}
.row .choice {
  width: 120px;
}
.row .el-input {
  width: 120px;
}
table {
  border-collapse: collapse;
}
th,
td {
  padding: 3px 18px 3px 0;
  border-bottom: 1px solid var(--line);
  font-weight: 400;
  text-align: left;
}
thead th {
  color: var(--soft);
  font-size: 12.5px;
}
.num {
  text-align: right;
}
</style>

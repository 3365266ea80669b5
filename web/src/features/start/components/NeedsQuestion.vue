<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Typical } from '@/shared/api/types'
import Choice from '@/shared/ui/fields/Choice.vue'
import { hourOfDay } from '@/shared/units/format'
import { useFirstAnswers, type Pick } from '../answers'

/** What has to keep running: a search by everyday names, eight tiles, and a row for each thing that was chosen. */
const props = defineProps<{ table: Typical[] }>()
const first = useFirstAnswers()
const text = ref('')

const heating = computed(() => (first.form.volts === 120 ? 'furnace-fan' : 'boiler-pump'))
const TILES = computed<[string, string][]>(() => [
  ['fridge', 'Refrigerator'],
  ['router', 'Internet'],
  ['phones', 'Phones'],
  ['lights', 'Lamps'],
  ['cpap', 'Breathing machine'],
  [heating.value, 'Heating'],
  ['well-pump', 'Water pump'],
  ['chest-freezer', 'Freezer'],
])
const row = (id: string) => props.table.find((t) => t.id === id)
const isOn = (id: string) => first.picks.some((p) => p.id === id)
function toggle(id: string) {
  const found = row(id)
  if (found) first.pick(found)
}

const found = computed(() => {
  const words = text.value.toLowerCase().trim()
  if (words.length < 2) return []
  return props.table.filter((t) => `${t.name} ${t.also}`.toLowerCase().includes(words)).slice(0, 8)
})
function take(t: Typical) {
  if (!isOn(t.id)) first.pick(t)
  text.value = ''
}
function other() {
  first.addOther(text.value.trim())
  text.value = ''
}
function enter() {
  const first = found.value[0]
  if (first) take(first)
  else if (text.value.trim().length > 1) other()
}
/** An answer that is yes puts the load on the list, any other takes it off. */
function says(question: 'heating' | 'well', id: string, answer: 'yes' | 'no' | 'unsure') {
  first.form[question] = answer as never
  if ((answer === 'yes') !== isOn(id)) toggle(id)
}
function count(p: Pick, by: number) {
  p.count = Math.min(20, Math.max(1, p.count + by))
}
function remove(p: Pick) {
  first.picks.splice(first.picks.indexOf(p), 1)
}
const usualHours = (p: Pick) => {
  const t = row(p.id)
  if (t?.use === 'windows') return `${hourOfDay(t.from_h)} to ${hourOfDay(t.to_h)}`
  return t?.use === 'tasks' ? 'as usual' : 'all day'
}
const HOURS = Array.from({ length: 24 }, (_, h) => h)
</script>

<template>
  <fieldset>
    <legend>What has to keep running?</legend>
    <el-input
      v-model="text"
      class="search"
      aria-label="Search for something that has to keep running"
      placeholder="Search: fridge, CPAP, sump, internet, or add your own"
      maxlength="80"
      @keydown.enter.prevent="enter"
    />
    <ul v-if="text.trim().length > 1" class="found">
      <li v-for="t in found" :key="t.id">
        <el-button @click="take(t)">{{ t.name }}<template v-if="isOn(t.id)"> (chosen)</template></el-button>
      </li>
      <li>
        <el-button @click="other">Add “{{ text.trim() }}” as something else</el-button>
      </li>
    </ul>
    <div class="tiles">
      <el-button
        v-for="[id, name] in TILES"
        :key="id"
        class="tile"
        :aria-pressed="isOn(id)"
        :disabled="!row(id)"
        @click="toggle(id)"
        >{{ name }}</el-button
      >
    </div>
    <ul class="rows">
      <li v-for="p in first.picks" :key="p.id">
        <strong>{{ p.name }}</strong>
        <span class="count">
          <el-button :aria-label="`One ${p.name} less`" :disabled="p.count < 2" @click="count(p, -1)">−</el-button>
          {{ p.count }}
          <el-button :aria-label="`One ${p.name} more`" @click="count(p, 1)">+</el-button>
        </span>
        <label class="watts">
          <el-input
            v-model="p.watts"
            :aria-label="`${p.name}: average watts of one`"
            :placeholder="p.usual === null ? 'its watts' : `${p.usual}`"
            inputmode="decimal"
          />
          W on average
        </label>
        <span class="hours">
          <Choice v-model="p.hours" :label="`${p.name}: when it is used`">
            <el-option v-if="p.usual !== null" value="usual" :label="usualHours(p)" />
            <el-option v-if="p.usual === null || usualHours(p) !== 'all day'" value="all" label="all day" />
            <el-option value="own" label="from … to …" />
          </Choice>
          <template v-if="p.hours === 'own'">
            <Choice v-model="p.from" class="hour" :label="`${p.name}: from`">
              <el-option v-for="h in HOURS" :key="h" :value="h" :label="hourOfDay(h)" />
            </Choice>
            <Choice v-model="p.to" class="hour" :label="`${p.name}: to`">
              <el-option v-for="h in HOURS" :key="h" :value="h" :label="hourOfDay(h)" />
            </Choice>
          </template>
        </span>
        <el-button class="link" :aria-label="`Remove ${p.name}`" @click="remove(p)">Remove</el-button>
      </li>
    </ul>
    <p class="asked">
      <span role="group" aria-label="Does your heating need electricity?">
        Does your heating need electricity?
        <el-button
          v-for="a in ['yes', 'no', 'unsure'] as const"
          :key="a"
          class="link"
          :aria-pressed="first.form.heating === a"
          @click="says('heating', heating, a)"
          >{{ a === 'unsure' ? 'Not sure' : a === 'yes' ? 'Yes' : 'No' }}</el-button
        >
      </span>
      <span role="group" aria-label="Is your water from a well?">
        Is your water from a well?
        <el-button
          v-for="a in ['yes', 'no'] as const"
          :key="a"
          class="link"
          :aria-pressed="first.form.well === a"
          @click="says('well', 'well-pump', a)"
          >{{ a === 'yes' ? 'Yes' : 'No' }}</el-button
        >
      </span>
    </p>
    <p v-if="first.form.heating === 'unsure'" class="soft small">
      Look for a power cord or a switch at the furnace or boiler. If it has a fan, a pump or a display, it needs
      electricity.
    </p>
    <p v-if="first.picks.length" class="soft small">Typical watts are guesses until you measure.</p>
  </fieldset>
</template>

<style scoped>
.search {
  font-size: 15px;
}
.found {
  margin: 4px 0 0;
  padding: 4px;
  border: 1px solid var(--line-strong);
  border-radius: 8px;
  background: var(--sheet);
  list-style: none;
}
.found button {
  width: 100%;
  min-height: 32px;
  padding: 4px 8px;
  text-align: left;
}
.found button:hover,
.found button:focus-visible {
  background: var(--wash);
}
.tiles {
  display: grid;
  grid-template-columns: repeat(4, 1fr);
  gap: 8px;
  margin-top: 10px;
}
.tile {
  min-height: 46px;
  padding: 4px 14px;
  border: 1px solid var(--line-strong);
  border-radius: 8px;
  background: var(--sheet);
  font-weight: 650;
  text-align: left;
}
.tile[aria-pressed='true'] {
  border-color: var(--stored);
  border-left-width: 7px;
}
.rows {
  margin: 10px 0 0;
  padding: 0;
  list-style: none;
}
.rows li {
  display: grid;
  grid-template-columns: minmax(120px, 1.3fr) 96px 168px minmax(150px, 1.6fr) auto;
  gap: 4px 10px;
  align-items: center;
  padding: 5px 0;
  border-bottom: 1px solid var(--line);
}
.count {
  display: inline-flex;
  gap: 6px;
  align-items: center;
}
.count button {
  width: 26px;
  height: 26px;
  border: 1px solid var(--line-strong);
  border-radius: 6px;
}
.watts {
  display: flex;
  gap: 6px;
  align-items: center;
  color: var(--soft);
  font-size: 13px;
  white-space: nowrap;
}
.watts .el-input {
  width: 78px;
}
.hours {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
}
.hours .choice {
  width: 100%;
}
.hours .hour {
  width: 47%;
}
.asked {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 22px;
  margin: 10px 0 0;
}
.asked .link {
  min-height: 24px;
  margin-left: 8px;
}
.asked [aria-pressed='true'] {
  font-weight: 700;
  text-decoration: none;
  box-shadow: inset 0 -3px 0 var(--stored);
}
@media (max-width: 760px) {
  .tiles {
    grid-template-columns: repeat(2, 1fr);
  }
  .rows li {
    grid-template-columns: 1fr auto;
  }
  .hours {
    grid-column: 1 / -1;
    order: 3;
  }
  .rows .link {
    min-height: 44px;
    text-align: right;
  }
  .count button {
    width: 44px;
    height: 44px;
  }
  .asked .link,
  .found button {
    min-height: 44px;
  }
}
</style>

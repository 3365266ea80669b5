<script setup lang="ts">
import { ref } from 'vue'
import { answer, api } from '@/shared/api/client'
import { MORE_FIELDS, STATION_FIELDS, useFirstAnswers } from '../answers'

/** What is there already: a station from its label or its page, a generator, something wired to the panel. */
const first = useFirstAnswers()
const pasting = ref(false)
const sheet = ref('')
const read = ref('')
const problem = ref('')

/** Take the fields that the page names into the form, where they can be looked at. */
async function readPage() {
  problem.value = read.value = ''
  try {
    const said = await answer(api.POST('/api/station-sheet', { body: { text: sheet.value } }))
    const names: Record<string, string> = Object.fromEntries(
      [...STATION_FIELDS, ...MORE_FIELDS].map((f) => [f.id, f.words]),
    )
    const taken = said.found.filter((f) => names[f.field] && !f.ask)
    for (const f of taken) first.station[f.field] = f.value
    const name = said.found.find((f) => f.field === 'name')
    if (name) first.station.name = name.value
    const asked = said.found
      .filter((f) => names[f.field] && f.ask)
      .map((f) => `${names[f.field]} “${f.words}”: ${f.ask}`)
    const none = asked.length
      ? 'Nothing is filled in yet. Check each value, then use it.'
      : 'Imbuto found no capacity, output or outlets on this page. Type them in.'
    read.value = [
      said.note,
      taken.length ? `Read from the page: ${taken.map((f) => `${names[f.field]} “${f.words}”`).join(', ')}.` : none,
      ...asked,
    ]
      .filter(Boolean)
      .join(' ')
    pasting.value = taken.length === 0
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
}
</script>

<template>
  <fieldset>
    <legend>What do you have?</legend>
    <div class="either" role="group" aria-label="What do you have?">
      <el-button :aria-pressed="first.form.have === 'nothing'" @click="first.form.have = 'nothing'"
        >Nothing yet</el-button
      >
      <el-button :aria-pressed="first.form.have === 'station'" @click="first.form.have = 'station'"
        >A power station</el-button
      >
      <el-button :aria-pressed="first.form.engine" @click="first.form.engine = !first.form.engine"
        >A generator</el-button
      >
      <el-button :aria-pressed="first.form.wired" @click="first.form.wired = !first.form.wired"
        >Something wired to my panel</el-button
      >
    </div>
    <template v-if="first.form.have === 'station'">
      <div class="fields">
        <label v-for="f in STATION_FIELDS" :key="f.id"
          >{{ f.words }} <el-input v-model="first.station[f.id]" inputmode="decimal" :placeholder="f.blank" />
        </label>
        <el-button class="link" :aria-expanded="pasting" @click="pasting = !pasting">Paste the product page</el-button>
      </div>
      <div v-if="pasting" class="paste">
        <label
          >Text of the shop’s page, the label or the manual
          <el-input v-model="sheet" type="textarea" :rows="4" maxlength="20000" />
        </label>
        <el-button class="btn" :disabled="!sheet.trim()" @click="readPage">Read the page</el-button>
      </div>
      <p v-if="read" role="status" class="soft small">{{ read }}</p>
      <p v-if="problem" role="alert">{{ problem }}</p>
      <details>
        <summary>More from its label</summary>
        <div class="fields">
          <label>Name <el-input v-model="first.station.name" maxlength="80" /></label>
          <label v-for="f in MORE_FIELDS" :key="f.id"
            >{{ f.words }} <el-input v-model="first.station[f.id]" inputmode="decimal" :placeholder="f.blank" />
          </label>
        </div>
      </details>
    </template>
    <div v-if="first.form.engine" class="fields">
      <label
        >Generator output (W)
        <el-input v-model="first.generator.running_w" inputmode="decimal" placeholder="such as 2,000" />
      </label>
      <label>Fuel at home (l) <el-input v-model="first.generator.stock_l" inputmode="decimal" /></label>
      <p class="soft small">
        Exhaust kills. Run a generator outdoors only, far from windows. Here it charges the station.
      </p>
    </div>
    <p v-if="first.form.wired" class="soft small">
      A transfer switch, an inlet or solar panels: keep the plan, then add them under Power source &gt; Connections and
      Solar. Until then the answer is for cords alone.
    </p>
  </fieldset>
</template>

<style scoped>
.fields {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 14px;
  align-items: flex-end;
  margin-top: 8px;
}
label {
  display: grid;
  gap: 2px;
  color: var(--soft);
  font-size: 13px;
}
.fields .el-input {
  width: 140px;
}
.fields p {
  margin: 0;
}
.paste {
  display: grid;
  gap: 6px;
  justify-items: start;
  margin-top: 8px;
}
.paste label {
  width: 100%;
}
details {
  margin-top: 6px;
}
summary {
  min-height: 24px;
  color: var(--stored-ink);
  font-size: 13px;
  cursor: pointer;
}
</style>

<script setup lang="ts">
import { ref } from 'vue'
import { answer, api } from '@/shared/api/client'
import type { FirstPreview, Town } from '@/shared/api/types'
import Choice from '@/shared/ui/fields/Choice.vue'
import { useFirstAnswers } from '../answers'

/** One line of what is guessed about the place, and the fields to change it. */
defineProps<{ said: FirstPreview | undefined }>()
const first = useFirstAnswers()
const zones = [...new Set([first.form.time_zone, ...Intl.supportedValuesOf('timeZone'), 'UTC'])]
const open = ref(false)
type Offered = Town & { value: string }

async function towns(text: string, done: (found: Offered[]) => void) {
  if (text.trim().length < 2) return done([])
  const found = await answer(api.GET('/api/towns', { params: { query: { text } } })).catch(() => [])
  done(found.map((t) => ({ ...t, value: [t.name, t.region, t.country].filter(Boolean).join(', ') })))
}
function chosen(town: Offered) {
  first.form.time_zone = town.time_zone
}
function volts(v: 120 | 230) {
  first.form.volts = v
  first.form.currency = v === 230 ? 'EUR' : 'USD'
}
</script>

<template>
  <p class="where soft">
    {{ said?.place || first.form.place || first.form.time_zone }} ·
    {{ first.form.volts === 120 ? '120/240 V' : '230 V' }} · {{ first.form.currency }}
    <el-button class="link" :aria-expanded="open" @click="open = !open">{{ open ? 'done' : 'change' }}</el-button>
  </p>
  <p v-if="said?.place_unknown" role="status">
    “{{ said.place_unknown }}” isn’t in Imbuto’s table of towns. Imbuto uses {{ said.place }} for the sun and the
    weather. Enter a larger town nearby, or the coordinates later under House &gt; Home facts.
  </p>
  <div v-if="open" class="fields">
    <label>Home’s name <el-input v-model="first.form.name" maxlength="80" /></label>
    <label
      >Town
      <el-autocomplete
        v-model="first.form.place"
        :fetch-suggestions="towns as never"
        :trigger-on-focus="false"
        maxlength="200"
        placeholder="such as Springfield"
        @select="chosen as never"
      />
    </label>
    <div class="either" role="group" aria-label="Supply">
      <el-button :aria-pressed="first.form.volts === 120" @click="volts(120)">120/240 V</el-button>
      <el-button :aria-pressed="first.form.volts === 230" @click="volts(230)">230 V</el-button>
    </div>
    <label
      >Time zone
      <Choice v-model="first.form.time_zone" label="Time zone" filterable>
        <el-option v-for="z in zones" :key="z" :value="z" :label="z" />
      </Choice>
    </label>
    <label>Currency <el-input v-model="first.form.currency" class="short" maxlength="3" /></label>
    <label
      >Climate
      <Choice v-model="first.form.climate" label="Climate">
        <el-option value="" label="guess from the town" />
        <el-option value="mild" label="mild" />
        <el-option value="cold_winter" label="cold winters" />
        <el-option value="hot_summer" label="hot summers" />
      </Choice>
    </label>
    <p class="soft small">Towns: GeoNames, under CC BY 4.0.</p>
  </div>
</template>

<style scoped>
.where {
  margin: 14px 0 0;
}
.where .link {
  min-height: 24px;
  margin-left: 6px;
}
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
.fields .el-input,
.fields .el-autocomplete {
  width: 190px;
}
.fields .short {
  width: 70px;
}
.fields p {
  width: 100%;
  margin: 0;
}
</style>

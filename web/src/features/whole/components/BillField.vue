<script setup lang="ts">
import { ref } from 'vue'
import { noteReading } from '@/shared/session/session'
import { parseNumber } from '@/shared/units/format'

/** A bill: kWh between two days. */
const kwh = ref('')
const from = ref('')
const to = ref('')
const problem = ref('')

function note() {
  const parsed = parseNumber(kwh.value)
  const days = (new Date(to.value).getTime() - new Date(from.value).getTime()) / 86_400_000
  if (!parsed.ok) problem.value = `The bill: ${parsed.why}`
  else if (!(parsed.value > 0)) problem.value = 'The bill: enter more than 0 kWh.'
  else if (!Number.isFinite(days)) problem.value = 'The bill: enter its first and last day.'
  else if (days < 7 || days > 366) problem.value = `The bill: ${days} days. A bill covers 7 to 366 days.`
  else {
    problem.value = ''
    noteReading({ text: `bill ${parsed.value} kWh ${from.value} to ${to.value}`, home: true })
    kwh.value = ''
  }
}
</script>

<template>
  <form novalidate class="bill" @submit.prevent="note">
    <label>kWh <el-input v-model="kwh" inputmode="decimal" aria-label="kWh on the bill" placeholder="912" /></label>
    <label
      >from
      <el-date-picker
        v-model="from"
        :automatic-dropdown="false"
        type="date"
        value-format="YYYY-MM-DD"
        aria-label="First day of the bill"
    /></label>
    <label
      >to
      <el-date-picker
        v-model="to"
        :automatic-dropdown="false"
        type="date"
        value-format="YYYY-MM-DD"
        aria-label="Last day of the bill"
    /></label>
    <el-button native-type="submit" class="btn" :disabled="!kwh.trim()">Note the bill</el-button>
    <p v-if="problem" role="alert">{{ problem }}</p>
  </form>
</template>

<style scoped>
.bill {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 10px;
  align-items: center;
  margin: 8px 0;
  color: var(--soft);
}
.el-input {
  width: 128px;
}
.el-input {
  width: 72px;
}
p {
  flex-basis: 100%;
  margin: 0;
  color: var(--ink);
}
</style>

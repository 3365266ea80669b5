<script setup lang="ts">
import type { Verdict } from '@/shared/api/types'
import { hoursText } from '@/shared/units/format'
import Fig from '@/shared/ui/Fig.vue'

/** Which load, measured for a day, would narrow the answer most. */
defineProps<{ verdict: Verdict }>()
defineEmits<{ open: [string] }>()
</script>

<template>
  <section>
    <h2>Meter next <span class="soft small">how much more certain a day on a meter makes these hours</span></h2>
    <ol>
      <li v-for="m in verdict.measures" :key="m.load">
        <el-button class="link name" @click="$emit('open', m.load)">{{ m.name }}</el-button>
        <span class="soft small">{{
          m.evidence === 'guess' ? 'a guess' : m.evidence === 'label' ? 'label only' : m.evidence
        }}</span>
        <strong><Fig :text="`±${hoursText(m.narrows_h)}`" /></strong>
      </li>
    </ol>
  </section>
</template>

<style scoped>
section {
  margin-top: 22px;
}
h2 {
  font-size: 17px;
}
h2 span {
  font: 400 12.5px var(--text);
}
ol {
  margin: 6px 0 0;
  padding: 0;
  list-style: none;
}
li {
  display: flex;
  align-items: baseline;
  gap: 9px;
  padding: 7px 0;
  border-bottom: 1px solid var(--line);
}
.name {
  font-weight: 650;
  text-decoration: none;
  text-align: left;
}
.name:hover {
  text-decoration: underline;
}
strong {
  margin-left: auto;
}
</style>

<script setup lang="ts">
import { computed, ref } from 'vue'
import type { SizeView } from '@/shared/api/types'
import { hoursText, watts } from '@/shared/units/format'
import Fig from '@/shared/ui/Fig.vue'

/** Hours each load takes of the hours: how much longer all the rest would last without it. */
const props = defineProps<{ loads: SizeView['loads']; goesDark: boolean }>()
const all = ref(false)
const shown = computed(() => (all.value ? props.loads : props.loads.slice(0, 6)))
const longest = computed(() => Math.max(...props.loads.map((l) => l.hours), 0.1))
</script>

<template>
  <section>
    <h2>Hours each load takes</h2>
    <p v-if="!loads.length" class="soft small">
      {{
        goesDark
          ? 'Nothing to compare: the plan powers one load, or only loads that a life depends on.'
          : 'The power never runs out, so no load takes any of the hours.'
      }}
    </p>
    <ol v-else>
      <li v-for="l in shown" :key="l.load">
        <span class="name">{{ l.name }} <Fig class="soft" :text="watts(l.mean_w)" /></span>
        <i aria-hidden="true"><i :style="{ width: `${(100 * l.hours) / longest}%` }"></i></i>
        <b><Fig :text="l.never_dark ? `${hoursText(l.hours)} or more` : hoursText(l.hours)" /></b>
      </li>
    </ol>
    <el-button v-if="loads.length > 6" class="link small" @click="all = !all">
      {{ all ? 'the first six' : `all ${loads.length}` }}
    </el-button>
  </section>
</template>

<style scoped>
ol {
  margin: 4px 0;
  padding: 0;
  list-style: none;
}
li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(30px, 120px) max-content;
  gap: 10px;
  align-items: center;
  padding: 2px 0;
}
li > i {
  height: 7px;
  border-radius: 4px;
  background: var(--spine);
}
li > i > i {
  display: block;
  height: 100%;
  border-radius: 4px;
  background: var(--stored);
}
b {
  text-align: right;
}
</style>

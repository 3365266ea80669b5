<script setup lang="ts">
import { defineAsyncComponent, ref } from 'vue'
import { choose, useSession } from '@/shared/session/session'
import PlanMenu from './PlanMenu.vue'

const OutageDialog = defineAsyncComponent(() => import('./OutageDialog.vue'))

const { state, plan, outage, pair } = useSession()
const plansOpen = ref(false)
const outagesOpen = ref(false)
const editing = ref<string | null>(null)

function pickOutage(id: string) {
  outagesOpen.value = false
  void choose({ outage: id })
}
function editOutage(id: string) {
  outagesOpen.value = false
  editing.value = id
}
</script>

<template>
  <div class="pair">
    <span class="quiet">Showing <kbd>&lt; &gt; , .</kbd></span>
    <el-popover
      v-model:visible="plansOpen"
      trigger="click"
      placement="top-start"
      :width="300"
      role="dialog"
      title="Plans"
    >
      <template #reference>
        <el-button aria-haspopup="dialog" :aria-expanded="plansOpen" :aria-label="`Plan: ${plan?.name ?? 'no plan'}`">
          {{ plan?.name ?? 'no plan' }}<span aria-hidden="true"> ▾</span>
        </el-button>
      </template>
      <PlanMenu @done="plansOpen = false" />
    </el-popover>
    <el-popover
      v-model:visible="outagesOpen"
      trigger="click"
      placement="top-start"
      :width="300"
      role="dialog"
      title="Outages"
    >
      <template #reference>
        <el-button
          aria-haspopup="dialog"
          :aria-expanded="outagesOpen"
          :aria-label="`Outage: ${outage?.name ?? 'no outage'}`"
        >
          {{ outage?.name ?? 'no outage' }}<span aria-hidden="true"> ▾</span>
        </el-button>
      </template>
      <ul class="list">
        <li v-for="o in state?.outages ?? []" :key="o.id">
          <el-button :class="{ now: o.id === pair.outage }" @click="pickOutage(o.id)">{{ o.name }}</el-button>
          <el-button class="edit" :aria-label="`Edit ${o.name}`" @click="editOutage(o.id)">edit</el-button>
        </li>
      </ul>
      <el-button class="btn tiny" @click="editOutage('')">New outage</el-button>
    </el-popover>
    <OutageDialog v-if="editing !== null" :id="editing" @close="editing = null" />
  </div>
</template>

<style scoped>
.pair {
  display: grid;
  flex: none;
  width: 176px;
  justify-items: start;
}
.pair > button {
  max-width: 100%;
  padding: 1px 4px;
  margin-left: -4px;
  border: 0;
  border-radius: 5px;
  background: none;
  color: inherit;
  font-weight: 700;
  font-size: 13.5px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.pair > button:hover {
  background: var(--deep-band);
}
.pair > button:focus-visible {
  outline-color: var(--gain);
}
.quiet {
  font-size: 12.5px;
  color: var(--on-deep-soft);
}
.quiet kbd {
  border: 0;
  background: none;
  color: inherit;
}
@media (max-width: 760px) {
  .pair > button {
    min-height: 44px;
  }
}
</style>

<style>
.list {
  margin: 0 0 8px;
  padding: 0;
  list-style: none;
  max-height: 50vh;
  overflow: auto;
}
.list li {
  display: flex;
  align-items: center;
}
.list button {
  padding: 6px 8px;
  border: 0;
  border-radius: 6px;
  background: none;
  text-align: left;
}
.list button:first-child {
  flex: 1;
}
.list button:hover {
  background: var(--well);
}
.list .now {
  font-weight: 700;
}
.list .edit {
  color: var(--soft);
  text-decoration: underline;
}
</style>

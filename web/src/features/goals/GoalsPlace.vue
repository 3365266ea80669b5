<script setup lang="ts">
import HouseTabs from '@/features/house/HouseTabs.vue'
import { useHomeQuery } from '@/shared/session/homeQuery'
import { useSession } from '@/shared/session/session'
import AimForm from './components/AimForm.vue'
import HarmList from './components/HarmList.vue'
import HistoryForm from './components/HistoryForm.vue'
import PeopleList from './components/PeopleList.vue'
import SubstituteList from './components/SubstituteList.vue'
import ThingList from './components/ThingList.vue'

/** Goals: what must not happen, what was lived through, who can act, what is there already. */
const { pair, home, plan } = useSession()
const goals = useHomeQuery('/api/homes/{home_id}/goals', { query: pair })
const g = goals.view
</script>

<template>
  <div class="place">
    <header>
      <div>
        <h1>House</h1>
        <HouseTabs />
      </div>
    </header>
    <p v-if="goals.isError.value" role="alert">{{ goals.error.value?.message }}</p>
    <div v-else-if="g && home" class="columns">
      <div class="scroll half">
        <HarmList :goals="g" />
        <AimForm v-if="plan" :plan="plan" :home="home" />
        <SubstituteList :goals="g" />
      </div>
      <div class="scroll half">
        <HistoryForm :goals="g" />
        <PeopleList :goals="g" />
        <ThingList />
      </div>
    </div>
    <p v-else class="soft" role="status">Loading needs and people…</p>
  </div>
</template>

<style scoped>
.half {
  flex: 1;
  min-width: 0;
}
.half > :deep(section) {
  margin-bottom: 20px;
}
</style>

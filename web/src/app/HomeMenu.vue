<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { defineAsyncComponent, ref } from 'vue'
import { useRouter } from 'vue-router'
import { answer, api } from '@/shared/api/client'
import { useSession } from '@/shared/session/session'

const PhonesDialog = defineAsyncComponent(() => import('./PhonesDialog.vue'))
const { state, home } = useSession()
const router = useRouter()
const open = ref(false)
const homes = useQuery({ queryKey: ['homes'], queryFn: () => answer(api.GET('/api/homes')), enabled: open })

const phones = ref(false)
/** Devices are paired on the machine that runs Imbuto, and nowhere else. */
const here = ['localhost', '127.0.0.1', '[::1]'].includes(location.hostname)
function showPhones() {
  open.value = false
  phones.value = true
}
function go(id: string) {
  open.value = false
  void router.push(`/home/${id}/house`)
}
</script>

<template>
  <div class="top">
    <RouterLink class="name" to="/" title="All homes">
      <svg viewBox="0 0 32 32" aria-hidden="true">
        <path d="M4 5h24l-9 12v7h-6v-7z" fill="#8cc7c3" />
        <circle cx="16" cy="28" r="2.4" fill="#f1c25b" />
      </svg>
      Imbuto
    </RouterLink>
    <el-popover
      v-model:visible="open"
      trigger="click"
      placement="bottom-start"
      :width="260"
      role="dialog"
      title="Homes"
    >
      <template #reference>
        <el-button class="home" aria-haspopup="dialog" :aria-expanded="open"
          >{{ home?.name ?? '…' }} <span aria-hidden="true">▾</span></el-button
        >
      </template>
      <div class="menu">
        <el-button
          v-for="h in homes.data.value ?? []"
          :key="h.id"
          :class="{ now: h.id === state?.id }"
          @click="go(h.id)"
        >
          {{ h.name }}
        </el-button>
        <hr />
        <RouterLink to="/start" @click="open = false">A new home</RouterLink>
        <RouterLink to="/" @click="open = false">All homes, and import a plan file</RouterLink>
        <el-button v-if="here" @click="showPhones">Connect phones</el-button>
        <a v-if="state" :href="`/api/homes/${state.id}/export`" download @click="open = false">Save as a plan file</a>
      </div>
    </el-popover>
    <PhonesDialog v-if="phones" @close="phones = false" />
  </div>
</template>

<style scoped>
.top {
  height: 74px;
  padding: 14px 18px 0;
}
.name {
  display: flex;
  align-items: center;
  gap: 9px;
  color: var(--on-deep);
  font: 650 21px var(--head);
  text-decoration: none;
}
.name svg {
  width: 24px;
  height: 24px;
}
.home {
  max-width: 100%;
  padding: 1px 4px;
  margin-left: -4px;
  border: 0;
  border-radius: 5px;
  background: none;
  color: var(--on-deep-soft);
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.home:hover {
  color: var(--on-deep);
}
.menu {
  display: grid;
}
.menu > * {
  padding: 7px 9px;
  border: 0;
  border-radius: 6px;
  background: none;
  color: var(--ink);
  text-align: left;
  text-decoration: none;
}
.menu > *:hover {
  background: var(--well);
}
.menu .now {
  font-weight: 700;
}
.menu hr {
  width: 100%;
  height: 1px;
  margin: 4px 0;
  padding: 0;
  background: var(--line);
}
@media (max-width: 760px) {
  .top {
    display: flex;
    height: auto;
    gap: 12px;
    padding: 0 12px;
    align-items: center;
  }
  .home {
    min-height: 44px;
  }
}
</style>

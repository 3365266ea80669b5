<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { answer, api } from '@/shared/api/client'
import { close, useSession } from '@/shared/session/session'
import HomeLine from './HomeLine.vue'
import KeepSafe from './KeepSafe.vue'
import FileButton from '@/shared/ui/fields/FileButton.vue'

const router = useRouter()
const route = useRoute()
const client = useQueryClient()
const { state } = useSession()
const homes = useQuery({ queryKey: ['homes'], queryFn: () => answer(api.GET('/api/homes')) })
const problem = ref('')

async function takeIn(file: File) {
  problem.value = ''
  try {
    const init = {
      params: { query: { name: file.name } },
      body: file as never,
      bodySerializer: (b: unknown) => b as never,
    }
    const made = await answer(api.POST('/api/imports', init))
    await client.invalidateQueries({ queryKey: ['homes'] })
    await router.push(`/home/${made.id}/house`)
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
}

const leaving = ref<{ id: string; name: string } | null>(null)
const copies = ref(false)
/** Erasing more than was asked for is chosen anew each time. */
function ask(home: { id: string; name: string }) {
  copies.value = false
  leaving.value = home
}
async function remove() {
  const home = leaving.value
  if (!home) return
  leaving.value = null
  try {
    const params = { path: { home_id: home.id }, query: { copies: copies.value } }
    await answer(api.DELETE('/api/homes/{home_id}', { params }))
    if (state.value?.id === home.id) close()
    await client.invalidateQueries({ queryKey: ['homes'] })
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
}
</script>

<template>
  <main class="first">
    <h1>Imbuto</h1>
    <p class="lead">
      How long does a battery keep your house running, and what gives out first? Imbuto shows you, from loads and
      circuits to switch, station and hours.
    </p>
    <p v-if="route.query.missing" role="alert">
      Imbuto has no page at {{ route.query.missing }}. Choose a home from this list.
    </p>
    <p v-if="problem" role="alert" class="problem">{{ problem }}</p>
    <p v-if="homes.isError.value" role="alert" class="problem">
      The server isn’t responding. Start Imbuto, then reload this page.
    </p>
    <ul>
      <HomeLine v-for="h in homes.data.value ?? []" :id="h.id" :key="h.id" :name="h.name" @remove="ask(h)" />
    </ul>
    <p v-if="homes.data.value?.length === 0">No home yet. Answer three questions to start one.</p>
    <div class="acts">
      <RouterLink class="btn strong" to="/start">Start a new home</RouterLink>
      <FileButton accept=".json,.zip,application/json,application/zip" @file="takeIn">Import a plan file</FileButton>
      <RouterLink v-if="(homes.data.value?.length ?? 0) > 1" class="btn" to="/one-storm"
        >One storm over all homes</RouterLink
      >
    </div>
    <KeepSafe />
    <el-dialog
      :model-value="!!leaving"
      title="Remove this home?"
      width="min(480px, 92vw)"
      @update:model-value="leaving = null"
    >
      <p>
        {{ leaving?.name }}, its plans, outages, history and files will be gone. If in doubt, save it as a plan file
        first.
      </p>
      <p>
        Imbuto keeps a copy of everything for each of the last seven days on this computer. The home stays in those
        copies until they are replaced, and in every backup you made.
      </p>
      <el-checkbox v-model="copies">Erase it from the daily copies too</el-checkbox>
      <template #footer>
        <el-button class="btn" @click="leaving = null">Keep</el-button>
        <el-button class="btn strong" @click="remove">Remove</el-button>
      </template>
    </el-dialog>
  </main>
</template>

<style scoped>
.first {
  max-width: 760px;
  margin: 0 auto;
  padding: 6vh 20px;
}
.first h1 {
  font-size: 40px;
}
ul {
  margin: 28px 0;
  padding: 0;
  list-style: none;
  border-top: 1px solid var(--line);
}
.acts {
  display: flex;
  gap: 10px;
  flex-wrap: wrap;
}
.problem {
  padding: 9px 14px;
  border-left: 6px solid var(--dark);
  background: var(--sheet);
}
</style>

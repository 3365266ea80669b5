<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { ElMessageBox } from 'element-plus/es/components/message-box/index'
import 'element-plus/es/components/message-box/style/css'
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import { answer, api } from '@/shared/api/client'
import { close, useSession } from '@/shared/session'

const router = useRouter()
const client = useQueryClient()
const { state } = useSession()
const homes = useQuery({ queryKey: ['homes'], queryFn: () => answer(api.GET('/api/homes')) })
const problem = ref('')
const picker = ref<HTMLInputElement>()

async function takeIn(event: Event) {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  input.value = ''
  if (!file) return
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

async function remove(id: string, name: string) {
  const text = `${name}, its plans, outages and history will be gone. Save it as a plan file first if in doubt.`
  try {
    await ElMessageBox.confirm(text, 'Remove this home?', { confirmButtonText: 'Remove', cancelButtonText: 'Keep' })
  } catch {
    return // kept
  }
  try {
    await answer(api.DELETE('/api/homes/{home_id}', { params: { path: { home_id: id } } }))
    if (state.value?.id === id) close()
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
      How long does stored energy keep a house going, and what gives out first? Pour the house through the funnel:
      loads, circuits, what the switch and the station can pass, hours.
    </p>
    <p v-if="problem" role="alert" class="problem">{{ problem }}</p>
    <p v-if="homes.isError.value" role="alert" class="problem">The server does not answer. Start it, then reload.</p>
    <ul>
      <li v-for="h in homes.data.value ?? []" :key="h.id">
        <RouterLink :to="`/home/${h.id}/house`">{{ h.name }}</RouterLink>
        <a class="btn tiny" :href="`/api/homes/${h.id}/export`" download>Save as a plan file</a>
        <button class="btn tiny" @click="remove(h.id, h.name)">Remove</button>
      </li>
    </ul>
    <p v-if="homes.data.value?.length === 0">No home yet. Three questions make one.</p>
    <div class="acts">
      <RouterLink class="btn strong" to="/start">Begin a new home</RouterLink>
      <button class="btn" @click="picker?.click()">Take in a plan file</button>
      <input
        ref="picker"
        class="sr"
        type="file"
        accept=".json,application/json"
        aria-label="Plan file"
        @change="takeIn"
      />
    </div>
  </main>
</template>

<style scoped>
.first {
  max-width: 640px;
  margin: 0 auto;
  padding: 8vh 20px;
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
li {
  display: flex;
  align-items: center;
  gap: 8px;
  padding: 10px 2px;
  border-bottom: 1px solid var(--line);
}
li > a:first-child {
  flex: 1;
  color: var(--ink);
  font: 650 18px var(--head);
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

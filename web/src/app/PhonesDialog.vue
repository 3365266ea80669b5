<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { answer, api } from '@/shared/api/client'

/** Connect phones: a code to pair one, and those that are paired. */
const emit = defineEmits<{ close: [] }>()
const open = ref(true)
const client = useQueryClient()
type Rights = 'look' | 'measure' | 'note' | 'tick' | 'edit'
const MAY: Record<Rights, string> = {
  look: 'look',
  measure: 'photograph labels and note readings',
  note: 'also run an outage and note entries',
  tick: 'also tick steps',
  edit: 'change everything',
}
const rights = ref<Rights>('tick')
const invitation = useQuery({
  queryKey: computed(() => ['invitation', rights.value]),
  queryFn: () => answer(api.POST('/api/devices/invitations', { params: { query: { rights: rights.value } } })),
  retry: false,
  gcTime: 0,
})
const devices = useQuery({
  queryKey: ['devices'],
  queryFn: () => answer(api.GET('/api/devices')),
  refetchInterval: 2000,
})
const picture = computed(() => `data:image/svg+xml,${encodeURIComponent(invitation.data.value?.svg ?? '')}`)
const day = (iso: string) =>
  new Date(iso).toLocaleDateString(undefined, { day: 'numeric', month: 'short', year: 'numeric' })

async function allow(id: string, may: Rights) {
  await api.PUT('/api/devices/{device_id}/rights/{rights}', { params: { path: { device_id: id, rights: may } } })
  await client.invalidateQueries({ queryKey: ['devices'] })
}
async function unpair(id: string) {
  await api.DELETE('/api/devices/{device_id}', { params: { path: { device_id: id } } })
  await client.invalidateQueries({ queryKey: ['devices'] })
}
</script>

<template>
  <el-dialog v-model="open" title="Connect phones" width="520" @closed="emit('close')">
    <p v-if="invitation.isError.value" role="alert">{{ invitation.error.value?.message }}</p>
    <div v-else-if="invitation.data.value" class="code">
      <img :src="picture" alt="A code to scan with the phone that is to be paired" />
      <div>
        <p>Scan this with a phone on the same network. It works once, for ten minutes, and pairs that phone only.</p>
        <label for="phone-may">Allowed</label>
        <el-select id="phone-may" v-model="rights" aria-label="Permissions">
          <el-option v-for="(text, key) in MAY" :key="key" :value="key" :label="text" />
        </el-select>
        <p class="soft small address">{{ invitation.data.value.address }}</p>
        <el-button class="btn" @click="invitation.refetch()">Another code</el-button>
      </div>
    </div>
    <h3>Paired</h3>
    <ul v-if="devices.data.value?.length">
      <li v-for="d in devices.data.value" :key="d.id">
        <b>{{ d.name }}</b> <span class="soft small">since {{ day(d.paired) }}</span>
        <el-select
          class="may"
          :model-value="d.rights"
          :aria-label="`What ${d.name} may do`"
          @change="allow(d.id, $event as Rights)"
        >
          <el-option v-for="(text, key) in MAY" :key="key" :value="key" :label="text" />
        </el-select>
        <el-button class="btn tiny" @click="unpair(d.id)">Unpair</el-button>
      </li>
    </ul>
    <p v-else class="soft">No phones yet. Other devices on the network can’t connect.</p>
  </el-dialog>
</template>

<style scoped>
.code {
  display: flex;
  flex-wrap: wrap;
  gap: 16px;
}
.code div {
  flex: 1 1 200px;
}
img {
  width: 190px;
  background: #fff;
}
.may {
  width: 190px;
}
.address {
  overflow-wrap: anywhere;
}
ul {
  margin: 6px 0;
  padding: 0;
  list-style: none;
}
li {
  display: flex;
  gap: 10px;
  align-items: center;
  padding: 4px 0;
}
li .btn {
  margin-left: auto;
}
</style>

<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { api, ask } from '@/api/client'
import { useAction } from '@/shared/action'
import { useSeen } from '@/shared/useSeen'
import Loaded from '@/shared/Loaded.vue'
import VersionNote from './VersionNote.vue'

/** What notches are given for. */
const query = useQuery({ queryKey: ['rules', 'thanks'], queryFn: () => ask(api.GET('/api/v1/rules/thanks')) })
const given = ref<string[]>([])
const note = ref('')
const was = ref('')
const before = computed(() =>
  (query.data.value?.kinds ?? []).filter((one) => one.given).map((one) => one.value),
)
function read() {
  given.value = [...before.value]
  was.value = [...before.value].sort().join()
  note.value = ''
}
const changed = computed(() => [...given.value].sort().join() !== was.value)
watch(before, () => (changed.value && was.value ? undefined : read()), { immediate: true })
const keep = useAction(async () => {
  await ask(
    api.PUT('/api/v1/rules/thanks', {
      params: { header: { 'if-match': `"${seen.value}"` } },
      body: { kinds: given.value, note: note.value },
    }),
  )
  was.value = [...given.value].sort().join()
  note.value = ''
}, [['rules'], ['thanks']])
const seen = useSeen(
  () => query.data.value?.version,
  keep.error,
  () => changed.value && was.value !== '',
)
// What somebody else kept meanwhile is read; what is typed stays.
watch(keep.error, (error) => error && void query.refetch())
</script>

<template>
  <Loaded :pending="query.isPending.value" :error="query.error.value">
    <div class="stack">
      <p>A notch, once for a person and an idea, when somebody …</p>
      <el-checkbox-group v-model="given" class="stack tight">
        <el-checkbox v-for="one in query.data.value?.kinds ?? []" :key="one.value" :value="one.value">{{
          one.words
        }}</el-checkbox>
      </el-checkbox-group>
      <p class="quiet">
        Notches given before stay. <router-link to="/ideas/thanks">See the thanks page</router-link>
      </p>
      <VersionNote
        v-model="note"
        :version="query.data.value?.version ?? 0"
        :versions="query.data.value?.versions ?? []"
        :changed="changed"
        :busy="keep.busy.value"
        :error="keep.error.value"
        @keep="keep.go()"
        @leave="read"
      />
    </div>
  </Loaded>
</template>

<script setup lang="ts">
import { ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import { size } from '@/shared/format'
import Problem from '@/shared/Problem.vue'
import { FILE_KINDS } from './questions'

/** Files on an idea: put on by dropping or choosing, each with its kind. */
const props = defineProps<{ idea: number; files: Schemas['FileRow'][]; change: boolean }>()
const kind = ref('how-to')
const over = ref(false)

const attach = useAction(async (file: File) => {
  const form = new FormData()
  form.set('file', file)
  form.set('kind', kind.value)
  return ask(
    api.POST('/api/v1/ideas/{number}/files', {
      params: { path: { number: props.idea } },
      body: form as unknown as { file: string; kind: string },
      bodySerializer: () => form,
    }),
  )
})
const detach = useAction((file: number) =>
  ask(
    api.DELETE('/api/v1/ideas/{number}/files/{file_id}', {
      params: { path: { number: props.idea, file_id: file } },
    }),
  ),
)

async function take(list: FileList | null | undefined) {
  for (const file of Array.from(list ?? [])) await attach.go(file)
}
function chosen(event: Event) {
  const field = event.target as HTMLInputElement
  void take(field.files).then(() => (field.value = ''))
}
</script>

<template>
  <div class="stack tight">
    <table v-if="files.length" class="ledger">
      <tbody>
        <tr v-for="file in files" :key="file.id">
          <td>
            <a :href="`/api/v1/ideas/${idea}/files/${file.id}`">{{ file.name }}</a>
            <div class="quiet">{{ file.kind }}, {{ file.person }}</div>
          </td>
          <td class="num">{{ size(file.size) }}</td>
          <td v-if="change" class="num">
            <button class="plain bad" @click="detach.go(file.id)">Take off</button>
          </td>
        </tr>
      </tbody>
    </table>
    <div
      v-if="change"
      class="drop"
      :class="{ over }"
      @dragover.prevent="over = true"
      @dragleave="over = false"
      @drop.prevent="((over = false), take($event.dataTransfer?.files))"
    >
      <label class="row"
        >This is a
        <select v-model="kind" aria-label="Kind of file">
          <option v-for="one in FILE_KINDS" :key="one">{{ one }}</option>
        </select></label
      >
      <label class="button">
        {{ attach.busy.value ? 'Keeping it …' : 'Choose a file' }}
        <input type="file" class="file" aria-label="File" @change="chosen" />
      </label>
      <span class="quiet">or drop it here; PDF, pictures, text, CSV or office files, up to 20 MB</span>
    </div>
    <Problem :error="attach.error.value ?? detach.error.value" />
  </div>
</template>

<style scoped>
.drop {
  border: 1px dashed var(--hair-2);
  padding: 12px;
  display: flex;
  gap: 12px;
  align-items: center;
  flex-wrap: wrap;
}
.drop.over {
  border-color: var(--act);
  background: var(--act-soft);
}
.file {
  position: absolute;
  opacity: 0;
  width: 1px;
}
.button:focus-within {
  outline: 2px solid var(--act);
  outline-offset: 2px;
}
</style>

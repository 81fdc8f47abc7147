<script setup lang="ts">
import { ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import { size } from '@/shared/format'
import Problem from '@/shared/Problem.vue'
import FileRow from './FileRow.vue'
import { FILE_KINDS } from '@/api/words'
import FileField from '@/shared/FileField.vue'
import Choice from '@/shared/Choice.vue'

/** Files on an idea: put on by dropping or choosing, each with its kind, a title and a remark. */
const props = defineProps<{ idea: number; files: Schemas['FileRow'][]; change: boolean }>()
const kind = ref('how-to')
const over = ref(false)
const LARGEST = 20_000_000
const tooLarge = ref<string[]>([])

const attach = useAction(async (file: File) => {
  const form = new FormData()
  form.set('file', file)
  form.set('kind', kind.value)
  return ask(
    api.POST('/api/v1/ideas/{number}/files', {
      params: { path: { number: props.idea } },
      body: form as unknown as { file: string; kind: string; title: string; remark: string },
      bodySerializer: () => form,
    }),
  )
})

async function take(files: Iterable<File>) {
  tooLarge.value = []
  for (const file of files) {
    if (file.size > LARGEST) tooLarge.value.push(`${file.name} has ${size(file.size)}`)
    else await attach.go(file)
  }
}
</script>

<template>
  <div class="stack tight">
    <table v-if="files.length" class="ledger files">
      <tbody>
        <FileRow v-for="file in files" :key="file.id" :idea="idea" :file="file" :change="change" />
      </tbody>
    </table>
    <div
      v-if="change"
      class="drop"
      :class="{ over }"
      @dragover.prevent="over = true"
      @dragleave="over = false"
      @drop.prevent="((over = false), take($event.dataTransfer?.files ?? []))"
    >
      <label class="row"
        >This is a <Choice v-model="kind" :options="FILE_KINDS" label="Kind of file"
      /></label>
      <FileField
        :words="attach.busy.value ? 'Keeping it …' : 'Choose files'"
        label="File"
        several
        @chosen="take"
      />
      <span class="quiet">or drop them here; PDF, pictures, text, CSV or office files, up to 20 MB each</span>
    </div>
    <p v-for="one in tooLarge" :key="one" class="note bad" role="alert">{{ one }}; at most 20 MB.</p>
    <Problem :error="attach.error.value" />
  </div>
</template>

<script setup lang="ts">
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import { useAction } from '@/shared/action'
import DraftNote from '@/shared/DraftNote.vue'
import FileField from '@/shared/FileField.vue'
import FilePreview from '@/shared/FilePreview.vue'
import Problem from '@/shared/Problem.vue'
import { useDraft } from '@/shared/unsaved'

/** Releases a package: its zip, and what changed. */
const router = useRouter()
const note = ref('')
const file = ref<File | null>(null)
const release = useAction(async () => {
  const form = new FormData()
  if (file.value) form.set('file', file.value)
  form.set('note', note.value)
  const made = await ask(
    api.POST('/api/v1/releases', {
      body: form as unknown as { file: string; note: string },
      bodySerializer: () => form,
    }),
  )
  unsent.done()
  await router.push(`/workshop/releases/${made.id}`)
})
const unsent = useDraft('The note on the release', () => 'release', { note })
</script>

<template>
  <form class="stack tight" @submit.prevent="release.go()">
    <DraftNote :draft="unsent" />
    <h2>Release a package</h2>
    <div class="row">
      <FileField
        :words="file ? file.name : 'Choose a zip'"
        label="Package"
        accept=".zip"
        @chosen="([one]: File[]) => (file = one ?? null)"
      />
      <el-input
        v-model="note"
        style="--chars: 40"
        aria-label="What changed"
        placeholder="What changed, in a sentence"
      />
      <el-button :disabled="!file || release.busy.value" type="primary" native-type="submit"
        >{{ release.busy.value ? 'Checking …' : 'Release it' }}
      </el-button>
      <span v-if="!file" class="quiet">Choose the zip first.</span>
    </div>
    <FilePreview v-if="file" :file="file" />
    <Problem :error="release.error.value" />
  </form>
</template>

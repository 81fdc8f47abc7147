<script setup lang="ts">
import { computed, shallowRef } from 'vue'
import { api, ask } from '@/api/client'
import { useAction } from '@/shared/action'
import FileField from '@/shared/FileField.vue'
import FilePreview from '@/shared/FilePreview.vue'
import Problem from '@/shared/Problem.vue'

/** A file as an input: kept at once, named in the value, seen before it starts anything. */
defineProps<{ id: string; label: string; disabled?: boolean }>()
const value = defineModel<unknown>()
// What was chosen here; what was kept before is known by its name alone.
const chosen = shallowRef<File | null>(null)
const name = computed(() =>
  String(value.value ?? '')
    .split('/')
    .slice(1)
    .join('/'),
)
const keep = useAction(async (file: File) => {
  const form = new FormData()
  form.set('file', file)
  const kept = await ask(
    api.POST('/api/v1/routines/input-files', {
      body: form as unknown as { file: string },
      bodySerializer: () => form,
    }),
  )
  value.value = kept.value
  return kept
})
function choose([file]: File[]) {
  if (!file) return
  chosen.value = file
  void keep.go(file)
}
function off() {
  chosen.value = null
  value.value = undefined
}
</script>

<template>
  <span class="row">
    <FileField
      :id="id"
      :words="name || 'Choose a file'"
      :label="label"
      :disabled="disabled || keep.busy.value"
      @chosen="choose"
    />
    <el-button v-if="value" :disabled="disabled" link type="primary" @click="off">Take off</el-button>
    <FilePreview v-if="value && chosen" :file="chosen" />
    <Problem :error="keep.error.value" />
  </span>
</template>

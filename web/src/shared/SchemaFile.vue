<script setup lang="ts">
import { computed, shallowRef } from 'vue'
import { useAction } from './action'
import FileField from './FileField.vue'
import FilePreview from './FilePreview.vue'
import Problem from './Problem.vue'
import { useInputFiles } from './inputFile'

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
const keepFile = useInputFiles()
const keep = useAction(async (file: File) => {
  const kept = await keepFile(file)
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

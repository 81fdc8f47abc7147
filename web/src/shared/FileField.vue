<script setup lang="ts">
import { ref } from 'vue'

/**
 * A button that takes a file, or several. The field itself is the browser's own, hidden under the button: it is
 * reached by keyboard and by those who cannot see, and it alone may open what is on the disk.
 */
defineProps<{
  id?: string
  words: string
  label: string
  accept?: string
  several?: boolean
  disabled?: boolean
}>()
const emit = defineEmits<{ chosen: [files: File[]] }>()
const field = ref<HTMLInputElement | null>(null)
function take() {
  const files = [...(field.value?.files ?? [])]
  // The same file chosen again is a choice too.
  if (field.value) field.value.value = ''
  if (files.length) emit('chosen', files)
}
</script>

<template>
  <label class="button file-field" :class="{ off: disabled }"
    >{{ words
    }}<input
      :id="id"
      ref="field"
      type="file"
      :accept="accept"
      :multiple="several"
      :aria-label="label"
      :disabled="disabled"
      @change="take"
  /></label>
</template>

<style scoped>
.file-field {
  position: relative;
}
.file-field:focus-within {
  outline: 2px solid var(--act);
  outline-offset: 2px;
}
.off {
  color: var(--ink-3);
  border-color: var(--hair-2);
  cursor: not-allowed;
}
input {
  position: absolute;
  opacity: 0;
  width: 1px;
  height: 1px;
}
</style>

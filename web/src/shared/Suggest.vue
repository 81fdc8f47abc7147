<script setup lang="ts">
import type { AutocompleteInstance } from 'element-plus'
import { computed, onMounted, ref } from 'vue'

/** Text with what is known already offered while typing; anything else may be typed too. */
const props = defineProps<{
  id?: string
  known: readonly string[]
  label?: string
  chars?: number
  maxlength?: number
  placeholder?: string
  disabled?: boolean
  invalid?: boolean
  required?: boolean
}>()
const MOST = 40
const text = defineModel<string>({ required: true })
const emit = defineEmits<{ keep: [value: string]; typing: [value: string] }>()
const all = computed(() => props.known.map((value) => ({ value })))
function near(typed: string, show: (found: { value: string }[]) => void) {
  const words = typed.trim().toLowerCase()
  const exact = props.known.some((one) => one === typed)
  show(all.value.filter((one) => exact || one.value.toLowerCase().includes(words)).slice(0, MOST))
}

// The part names a list and an entry that are not there before something is typed; what is said must be there.
const field = ref<AutocompleteInstance | null>(null)
onMounted(() => {
  const input = field.value?.inputRef?.input
  input?.setAttribute('role', 'combobox')
  input?.setAttribute('aria-expanded', 'false')
  input?.removeAttribute('aria-activedescendant')
  input?.removeAttribute('aria-controls')
})
</script>

<template>
  <el-autocomplete
    :id="id"
    ref="field"
    v-model="text"
    :fetch-suggestions="near"
    :debounce="60"
    :style="`--chars: ${chars ?? 22}`"
    :maxlength="maxlength"
    :placeholder="placeholder"
    :disabled="disabled"
    :required="required"
    :aria-label="label"
    :aria-invalid="invalid"
    @input="(now: string | number) => emit('typing', String(now))"
    @select="(one: { value?: string }) => emit('keep', one.value ?? text)"
    @change="(now: string | number) => emit('keep', String(now))"
  />
</template>

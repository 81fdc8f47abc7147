<script setup lang="ts" generic="T extends object">
import { ref } from 'vue'
import Conflict from './Conflict.vue'
import DraftNote from './DraftNote.vue'
import { useFocusOf } from './focus'
import FormEnd from './FormEnd.vue'
import type { Edit } from './useEdit'

/** The form of something that has a version: its draft, its fields, both texts on a conflict, and its end. */
const props = defineProps<{
  edit: Edit<T>
  title?: string
  action: string
  leave?: string
  fields?: string[]
  /** What lines are called where two texts stand side by side. */
  names?: Record<string, string>
  say?: (path: string, value: unknown) => string | undefined
  wait?: string
  /** Said once it was kept, where the form stays open. */
  says?: string
}>()
const emit = defineEmits<{ leave: [] }>()
// Both texts may stand in the place of its end for a while, so the focus is the form's own matter.
const place = ref<HTMLElement | null>(null)
useFocusOf(() => place.value, props.leave !== undefined)
const end = () => ({
  busy: props.edit.save.busy.value,
  error: props.edit.refused.value ? null : props.edit.save.error.value,
})
</script>

<template>
  <form ref="place" class="note stack tight" autocomplete="off" @submit.prevent.stop="edit.save.go()">
    <h3 v-if="title">{{ title }}</h3>
    <DraftNote :draft="edit.unsent" />
    <slot />
    <Conflict
      v-if="edit.refused.value"
      :said="edit.refused.value.message"
      :say="say"
      :rows="edit.rows.value"
      :names="names"
      @settle="edit.settle"
    />
    <FormEnd
      v-else
      v-bind="end()"
      :action="action"
      :leave="leave"
      :fields="fields"
      :wait="wait"
      sheet
      @leave="emit('leave')"
      ><slot name="more" />
      <span v-if="says && edit.kept.value" role="status" class="quiet">{{ says }}</span>
    </FormEnd>
  </form>
</template>

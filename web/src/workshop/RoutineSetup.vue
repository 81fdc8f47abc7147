<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { api, ask, type Schemas } from '@/api/client'
import FormSheet from '@/shared/FormSheet.vue'
import { useEdit } from '@/shared/useEdit'
import RoutineForm from './RoutineForm.vue'
import { ROUTINE_FIELDS, setupOf } from './routineFields'

/** How a routine is set up, changed. */
const props = defineProps<{ routine: Schemas['Routine'] }>()
const emit = defineEmits<{ leave: [] }>()
const choices = useQuery({
  queryKey: ['routines', 'choices'],
  queryFn: () => ask(api.GET('/api/v1/routines/choices')),
})
const edit = useEdit(
  () => setupOf(props.routine),
  (body, version) =>
    ask(
      api.PUT('/api/v1/routines/{number}', {
        params: { path: { number: props.routine.id }, header: { 'if-match': `"${version}"` } },
        body,
      }),
    ),
  {
    what: 'The routine',
    place: () => `routine-${props.routine.id}`,
    version: () => props.routine.version,
    after: () => emit('leave'),
  },
)
const { fields, save, ready } = edit
</script>

<template>
  <FormSheet
    v-if="ready"
    :edit="edit"
    action="Keep the changes"
    leave="Cancel"
    :fields="ROUTINE_FIELDS"
    @leave="emit('leave')"
  >
    <RoutineForm
      v-model="fields"
      :error="save.error.value"
      :counted="routine.idea ? `I-${routine.idea_id} ${routine.idea}` : null"
      :ideas="routine.ideas"
      :routine="routine.id"
      :live="routine.on_trial ? undefined : routine.release_id"
      :areas="choices.data.value?.areas ?? []"
    />
  </FormSheet>
</template>

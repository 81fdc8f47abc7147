<script setup lang="ts">
import { api, ask, type Schemas } from '@/api/client'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import FormSheet from '@/shared/FormSheet.vue'
import { useEdit } from '@/shared/useEdit'
import ClosedDays from './ClosedDays.vue'

/** An area's name and its own closed days. */
const props = defineProps<{ area: Schemas['AreaOut'] }>()
const emit = defineEmits<{ done: []; leave: [] }>()
const edit = useEdit(
  () => ({ name: props.area.name }),
  (body, version) =>
    ask(
      api.PUT('/api/v1/areas/{number}/name', {
        params: { path: { number: props.area.id }, header: { 'if-match': `"${version}"` } },
        body,
      }),
    ),
  {
    what: 'The name of the area',
    place: () => `area-${props.area.id}`,
    version: () => props.area.version,
    after: () => emit('done'),
  },
)
const { fields, save, changed } = edit
</script>

<template>
  <div class="stack tight">
    <FormSheet
      :edit="edit"
      action="Keep the name"
      leave="Cancel"
      :fields="['name']"
      :wait="changed ? '' : 'Nothing is changed yet.'"
      @leave="emit('leave')"
    >
      <Field v-slot="{ id }" label="Name of the area" :fault="faultOf(save.error.value, 'name')"
        ><el-input :id="id" v-model="fields.name"
      /></Field>
    </FormSheet>
    <h3>Closed days of {{ area.name }} and all below it, beside the company's</h3>
    <p v-if="area.days.length">
      <router-link :to="`/uses/calendar/${area.id}`">What looks at these closed days</router-link>
    </p>
    <ClosedDays :area="area.id" :days="area.days" change />
  </div>
</template>

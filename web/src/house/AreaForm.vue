<script setup lang="ts">
import { api, ask, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import FormSheet from '@/shared/FormSheet.vue'
import Problem from '@/shared/Problem.vue'
import { useEdit } from '@/shared/useEdit'
import ClosedDays from './ClosedDays.vue'

/** An area's name, whether its releases need a second yes and screens are pictured, and its own closed days. */
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
const screens = useAction((on: boolean) =>
  ask(
    api.PUT('/api/v1/areas/{number}/screens', {
      params: { path: { number: props.area.id } },
      body: { on },
    }),
  ),
)
const approving = useAction((on: boolean) =>
  ask(
    api.PUT('/api/v1/areas/{number}/approving', {
      params: { path: { number: props.area.id } },
      body: { on },
    }),
  ),
)
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
    <h3>Before a release starts</h3>
    <p>
      <el-checkbox
        :model-value="area.approving"
        :disabled="approving.busy.value"
        @update:model-value="(on) => approving.go(on === true)"
        >A second person says yes to it, and to each secret it newly asks for, here and in all areas
        below</el-checkbox
      >
    </p>
    <p class="quiet">
      Runs of a release without that yes wait, those of releases already set up as well. Whoever released it
      cannot give it.
    </p>
    <Problem :error="approving.error.value" />
    <h3>When a run stalls</h3>
    <p>
      <el-checkbox
        :model-value="area.screens"
        :disabled="screens.busy.value"
        @update:model-value="(on) => screens.go(on === true)"
        >Take a picture of its screen, here and in all areas below</el-checkbox
      >
    </p>
    <p class="quiet">
      Whoever may read the log of a run sees its picture: leave this off where screens show what they should
      not see. The screen of a person's own computer is never pictured.
    </p>
    <Problem :error="screens.error.value" />
    <h3>Closed days of {{ area.name }} and all below it, beside the company's</h3>
    <p v-if="area.days.length">
      <router-link :to="`/uses/calendar/${area.id}`">What looks at these closed days</router-link>
    </p>
    <ClosedDays :area="area.id" :days="area.days" change />
  </div>
</template>

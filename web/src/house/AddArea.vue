<script setup lang="ts">
import { ref } from 'vue'
import { api, ask } from '@/api/client'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import FormEnd from '@/shared/FormEnd.vue'
import { noteNewArea } from '@/shared/newArea'
import AreaField from '@/shared/AreaField.vue'
import { useDraft } from '@/shared/unsaved'
import DraftNote from '@/shared/DraftNote.vue'

/** A new area, below another one or at the top. */
defineProps<{ areas: { id: number; name: string; parent_id: number | null }[] }>()
const emit = defineEmits<{ leave: [] }>()
const name = ref('')
const parent = ref<number | null>(null)
const add = useAction(async () => {
  const made = await ask(api.POST('/api/v1/areas', { body: { name: name.value, parent_id: parent.value } }))
  noteNewArea(made.id)
  unsent.done()
  emit('leave')
})
const unsent = useDraft('The new area', () => 'area-new', { name, parent })
</script>

<template>
  <form class="note stack tight" @submit.prevent="add.go()">
    <DraftNote :draft="unsent" />
    <h2>Add an area</h2>
    <div class="row top">
      <Field v-slot="{ id }" label="Name of the area" :fault="faultOf(add.error.value, 'name')"
        ><el-input :id="id" v-model="name"
      /></Field>
      <Field v-slot="{ id }" label="Inside">
        <AreaField :id="id" v-model="parent" nothing="nothing: at the top" :among="areas" />
      </Field>
    </div>
    <FormEnd
      action="Add it"
      :busy="add.busy.value"
      :error="add.error.value"
      :fields="['name']"
      leave="Cancel"
      @leave="emit('leave')"
    />
  </form>
</template>

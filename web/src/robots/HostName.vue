<script setup lang="ts">
import { api, ask, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import DraftNote from '@/shared/DraftNote.vue'
import Field from '@/shared/Field.vue'
import FormEnd from '@/shared/FormEnd.vue'
import { useDraft } from '@/shared/unsaved'
import { ref } from 'vue'

/** Another name for a host; its runner and its runs stay. */
const props = defineProps<{ host: Schemas['Host'] }>()
const emit = defineEmits<{ leave: [] }>()
const name = ref(props.host.name)
const keep = useAction(async () => {
  const params = { path: { number: props.host.id } }
  await ask(api.PUT('/api/v1/hosts/{number}/name', { params, body: { name: name.value } }))
  unsent.done()
  emit('leave')
})
const unsent = useDraft('The name', () => `host-name-${props.host.id}`, { name })
</script>

<template>
  <form class="note stack tight" @submit.prevent="keep.go()">
    <DraftNote :draft="unsent" />
    <Field v-slot="{ id }" label="Name of the host" :fault="faultOf(keep.error.value, 'name')">
      <el-input :id="id" v-model="name" style="--chars: 30" />
    </Field>
    <FormEnd
      action="Keep the name"
      leave="Cancel"
      :busy="keep.busy.value"
      :error="keep.error.value"
      :fields="['name']"
      :wait="name.trim() === host.name ? 'That is its name.' : ''"
      @leave="emit('leave')"
    />
  </form>
</template>

<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import FormEnd from '@/shared/FormEnd.vue'
import Choice from '@/shared/Choice.vue'

/** Says which idea in service this one wants changed, or that it stands on its own. */
const props = defineProps<{ idea: Schemas['IdeaWhole'] }>()
const emit = defineEmits<{ leave: [] }>()
const amends = ref<number | null>(null)
const running = useQuery({
  queryKey: ['ideas', 'running'],
  enabled: () => props.idea.amends_id === null,
  queryFn: () =>
    ask(api.GET('/api/v1/ideas', { params: { query: { stage: 'in service', sort: 'title', limit: 200 } } })),
})
const keep = useAction(async () => {
  await ask(
    api.PUT('/api/v1/ideas/{number}/amends', {
      params: { path: { number: props.idea.id } },
      body: { amends: props.idea.amends_id === null ? amends.value : null },
    }),
  )
  emit('leave')
})
</script>

<template>
  <form class="note stack tight" @submit.prevent="keep.go()">
    <p v-if="idea.amends_id">
      It stands as a change to I-{{ idea.amends_id }} {{ idea.amends_title }}; as an idea of its own it is
      sized and counted by itself.
    </p>
    <Field
      v-else
      v-slot="{ id }"
      label="What in service does it change?"
      :fault="faultOf(keep.error.value, 'amends')"
    >
      <Choice
        :id="id"
        v-model="amends"
        nothing="choose one"
        :options="
          (running.data.value?.rows ?? []).map((one) => ({
            value: one.id,
            words: `I-${one.id} ${one.title}`,
          }))
        "
      />
    </Field>
    <p v-if="!idea.amends_id && running.data.value && !running.data.value.rows.length" class="quiet">
      Nothing that you may see is in service yet.
    </p>
    <FormEnd
      :action="idea.amends_id ? 'Make it an idea of its own' : 'Make it an amendment'"
      :busy="keep.busy.value"
      :error="keep.error.value"
      :fields="['amends']"
      :wait="!idea.amends_id && amends === null ? 'Choose the idea it amends first.' : ''"
      leave="Cancel"
      @leave="emit('leave')"
    />
  </form>
</template>

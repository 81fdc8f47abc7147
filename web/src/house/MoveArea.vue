<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import AreaField from '@/shared/AreaField.vue'
import FormEnd from '@/shared/FormEnd.vue'
import Problem from '@/shared/Problem.vue'

/** Where an area goes, and who gains and loses by it, before it moves. */
const props = defineProps<{
  area: Schemas['AreaOut']
  to: number | null | undefined
  areas: Schemas['AreaOut'][]
}>()
const emit = defineEmits<{ done: []; leave: [] }>()
const parent = ref(props.to === undefined ? props.area.parent_id : props.to)
const elsewhere = computed(() => parent.value !== props.area.parent_id)
const look = useQuery({
  queryKey: ['access', 'move', props.area.id, parent],
  queryFn: () =>
    ask(
      api.GET('/api/v1/areas/{number}/move', {
        params: { path: { number: props.area.id }, query: { parent: parent.value } },
      }),
    ),
  enabled: elsewhere,
  retry: false,
})
const found = computed(() => look.data.value)
const nothing = computed(
  () =>
    found.value &&
    ![found.value.gain, found.value.lose, found.value.robots, found.value.robots_lost].some(
      (one) => one.length,
    ),
)
const move = useAction(async () => {
  await ask(
    api.POST('/api/v1/areas/{number}/move', {
      params: { path: { number: props.area.id }, header: { 'if-match': `"${found.value?.version}"` } },
      body: { parent: parent.value },
    }),
  )
  emit('done')
})
const wait = computed(() => {
  if (!elsewhere.value) return 'It lies there now; choose where it goes.'
  if (look.error.value) return 'It cannot go there.'
  return found.value ? '' : 'Looking at what that moves …'
})
</script>

<template>
  <form class="note stack tight" @submit.prevent="move.go()">
    <h2>Move {{ area.name }}</h2>
    <p class="row">
      <label :for="`to-${area.id}`">Below</label>
      <AreaField
        :id="`to-${area.id}`"
        v-model="parent"
        :among="areas"
        :without="area.id"
        nothing="nothing: at the top"
      />
    </p>
    <Problem :error="look.error.value" />
    <template v-if="elsewhere && found && !look.error.value">
      <p v-if="nothing">Nobody gains or loses anything by it.</p>
      <p v-for="one in found.lose" :key="`l-${one.person}-${one.by}`" class="care">
        <b>{{ one.person }}</b> loses, held as {{ one.by }}: {{ one.what.join('. ') }}.
      </p>
      <p v-for="one in found.gain" :key="`g-${one.person}-${one.by}`">
        <b>{{ one.person }}</b> gains, held as {{ one.by }}: {{ one.what.join('. ') }}.
      </p>
      <p v-if="found.robots_lost.length" class="care">
        No longer allowed here: the robots {{ found.robots_lost.join(', ') }}.
      </p>
      <p v-if="found.robots.length">Allowed here from then on: the robots {{ found.robots.join(', ') }}.</p>
    </template>
    <FormEnd
      action="Move it"
      :busy="move.busy.value"
      :error="move.error.value"
      :wait="wait"
      leave="Cancel"
      @leave="emit('leave')"
    />
  </form>
</template>

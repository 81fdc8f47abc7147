<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed, reactive, ref, watch } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import Confirm from '@/shared/Confirm.vue'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import { several } from '@/shared/format'
import Problem from '@/shared/Problem.vue'
import { useUnsaved } from '@/shared/unsaved'
import ReleaseLook from './ReleaseLook.vue'
import { seenBy } from './seenBy'
import WhoSees from './WhoSees.vue'

/** Others see a release: who gains sight of it and who loses it is seen before the yes; a try-out gets a number. */
const props = defineProps<{
  release: Pick<Schemas['Release'], 'id' | 'package' | 'version' | 'note' | 'seen_by' | 'area' | 'mine'>
}>()
const emit = defineEmits<{ leave: [] }>()
const path = computed(() => ({ params: { path: { number: props.release.id } } }))
const name = computed(() => `${props.release.package} ${props.release.version}`)
const to = reactive<Schemas['SeenByIn']>({
  seen_by: props.release.seen_by === 'company' ? 'area' : 'company',
  area_id: null,
})
const note = ref(props.release.note)
const says = ref<Schemas['NextNumber']['says'] | ''>('')
useUnsaved('What changed', () => note.value !== props.release.note)
const whole = computed(() => to.seen_by !== 'area' || to.area_id !== null)
const query = useQuery({
  queryKey: ['packages', 'move', () => props.release.id, to],
  enabled: whole,
  placeholderData: keepPreviousData,
  gcTime: 0,
  queryFn: () => ask(api.POST('/api/v1/releases/{number}/move/look', { ...path.value, body: { ...to } })),
})
const seen = computed(() => (whole.value ? query.data.value : undefined))
watch(
  () => seen.value?.look,
  (look) => (says.value = look?.numbers.find((one) => one.enough)?.says ?? ''),
)
const number = computed(() => {
  const look = seen.value?.look
  return look?.number ?? look?.numbers.find((one) => one.says === says.value)?.number
})
const named = (people: string[]) =>
  people.length > 4
    ? `${people.slice(0, 4).join(', ')} and ${several(people.length - 4, 'other', 'others')}`
    : people.join(', ')
const off = computed(
  () =>
    !seen.value ||
    query.isFetching.value ||
    seen.value.against.length > 0 ||
    !!seen.value.look?.against.length ||
    (!!seen.value.look && !note.value.trim()),
)
const go = useAction(async () => {
  const body = { ...to, note: note.value, says: says.value, number: '' }
  await ask(api.POST('/api/v1/releases/{number}/move', { ...path.value, body }))
  emit('leave')
})
</script>

<template>
  <Confirm
    :model-value="true"
    :title="`Who sees ${name}`"
    :action="number ? `Release it as ${number}` : 'Change who sees it'"
    wide
    :busy="go.busy.value"
    :off="off"
    @update:model-value="emit('leave')"
    @yes="go.go()"
  >
    <p>Now it is seen by {{ seenBy(release) }}.</p>
    <WhoSees
      v-model="to"
      :mine="release.mine"
      :now="release.seen_by"
      :fault="faultOf(go.error.value, 'area_id')"
    />
    <template v-if="seen">
      <div v-if="seen.against.length" class="note care" role="status">
        <p>First:</p>
        <ul>
          <li v-for="one in seen.against" :key="one">{{ one }}</li>
        </ul>
      </div>
      <p v-if="seen.gains.length" role="status">
        <b>{{ several(seen.gains.length, 'person', 'people') }}</b> will see it: {{ named(seen.gains) }}.
      </p>
      <p v-if="seen.loses.length" role="status" class="care">
        <b>{{ several(seen.loses.length, 'person', 'people') }}</b> will see it no more:
        {{ named(seen.loses) }}.
      </p>
      <p v-if="!seen.gains.length && !seen.loses.length" class="quiet">The same people see it then.</p>
      <template v-if="seen.look">
        <ReleaseLook v-model="says" :look="seen.look" />
        <Field v-slot="{ id }" label="What changed" :fault="faultOf(go.error.value, 'note')">
          <el-input :id="id" v-model="note" maxlength="1000" style="--chars: 55" />
        </Field>
      </template>
    </template>
    <p v-else-if="!whole" class="quiet">Choose the area that is to see it.</p>
    <Problem :error="query.error.value ?? go.error.value" :fields="['note', 'area_id']" />
  </Confirm>
</template>

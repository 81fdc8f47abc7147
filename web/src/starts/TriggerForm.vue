<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useMe } from '@/shared/session'
import { useEdit } from '@/shared/useEdit'
import FormSheet from '@/shared/FormSheet.vue'
import { faultOf } from '@/shared/faults'
import PreCheck from '@/shared/PreCheck.vue'
import Problem from '@/shared/Problem.vue'
import { bodyOf, CODE, type Draft, draftOf, empty } from './triggerForm'
import TriggerRules from './TriggerRules.vue'
import TriggerTimes from './TriggerTimes.vue'

/** When a routine starts, chosen or pasted; the sentence and the next times follow while typing. */
const props = defineProps<{ routine: number; trigger?: Schemas['Trigger']; needs: Schemas['Need'][] }>()
const emit = defineEmits<{ leave: [] }>()
const { zone } = useMe()
const edit = useEdit<Draft>(
  () => (props.trigger ? draftOf(props.trigger) : empty(zone.value)),
  (now, version) => {
    const body = bodyOf(now)
    const path = { number: props.routine }
    if (!props.trigger) return ask(api.POST('/api/v1/routines/{number}/triggers', { params: { path }, body }))
    const params = { path: { ...path, trigger: props.trigger.id }, header: { 'if-match': `"${version}"` } }
    return ask(api.PUT('/api/v1/routines/{number}/triggers/{trigger}', { params, body }))
  },
  {
    what: 'The start',
    place: () => `trigger-${props.routine}-${props.trigger?.id ?? 0}`,
    version: () => props.trigger?.version,
    after: () => emit('leave'),
  },
)
const { fields: draft } = edit
const given = refDebounced(
  computed(() => bodyOf(draft.value)),
  250,
)
const preview = useQuery({
  queryKey: ['routines', 'preview', given],
  retry: false,
  // What was read last stays until it is read anew, so that nothing below it jumps.
  placeholderData: keepPreviousData,
  queryFn: () =>
    ask(
      api.POST('/api/v1/clock/preview', {
        params: { query: { routine: props.routine } },
        body: given.value,
      }),
    ),
})
const faults = (...names: string[]) =>
  names.map((name) => faultOf(preview.error.value, name)).find((found) => found !== undefined)
const KNOWN = [
  ...CODE,
  'zone',
  'window',
  'window.from',
  'window.to',
  'once',
  'anchor',
  'every_minutes',
  'weeks',
  'weeks_from',
]
const kept = computed(() => {
  const form = preview.data.value?.kept as { expr?: string; years?: string } | undefined
  return draft.value.kind === 'code' && form?.expr && form.expr !== draft.value.code.trim()
    ? `${form.expr}${form.years ? ` in the years ${form.years}` : ''}`
    : ''
})
</script>

<template>
  <FormSheet
    :edit="edit"
    :title="trigger ? 'Change this start' : 'Add a start on the clock'"
    :action="trigger ? 'Keep the change' : 'Start it so'"
    leave="Cancel"
    :fields="KNOWN"
    :wait="
      preview.error.value
        ? 'Mend the fields marked above.'
        : preview.data.value
          ? ''
          : 'Its next times are being worked out.'
    "
    @leave="emit('leave')"
  >
    <TriggerTimes v-model="draft" :faults="faults" />
    <TriggerRules v-model="draft" :faults="faults" />
    <div v-if="preview.data.value && !preview.error.value" class="read" role="status">
      <b>{{ preview.data.value.sentence }}</b>
      <p class="quiet">
        The next five in {{ given.zone
        }}<template v-if="given.on_closed !== 'run'"
          >, by the closed days of {{ preview.data.value.closed_days_of || 'the company' }}</template
        >:
      </p>
      <ol class="next">
        <li v-for="one in preview.data.value.times" :key="one.at">
          {{ one.wall }} <span class="quiet">{{ one.offset }}</span>
          <span v-if="one.note" class="care"> {{ one.note }}</span>
        </li>
      </ol>
      <div v-if="kept" class="quiet">
        Kept as <code>{{ kept }}</code>
      </div>
    </div>
    <Problem v-else-if="preview.error.value" :error="preview.error.value" :fields="KNOWN" />
    <PreCheck short named="Pre-check, as it is now" :needs="needs" />
  </FormSheet>
</template>

<style scoped>
.read {
  border-top: 1px solid var(--hair-2);
  padding-top: 8px;
}
.next {
  margin: 4px 0;
  padding-left: 22px;
}
form .plain {
  padding: 0;
}
</style>

<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { useDebounce } from '@vueuse/core'
import { computed, ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import FormEnd from '@/shared/FormEnd.vue'
import { useSoon } from '@/shared/undo'
import { useDraft } from '@/shared/unsaved'
import DraftNote from '@/shared/DraftNote.vue'
import { TAKES_IN } from '@/api/words'

/** Lets an idea go on in another; what goes over is said before. */
const props = defineProps<{ idea: Schemas['IdeaWhole']; into?: number; soon?: boolean }>()
const emit = defineEmits<{ done: []; leave: [] }>()
const text = ref('')
const slow = useDebounce(text, 250)
const chosen = ref<number | null>(props.into ?? null)
const why = ref('')
const found = useQuery({
  queryKey: ['ideas', 'to-merge', slow],
  queryFn: () =>
    ask(
      api.GET('/api/v1/ideas', { params: { query: { text: slow.value || null, limit: 8, sort: 'newest' } } }),
    ),
})
const choices = computed(() =>
  (found.data.value?.rows ?? []).filter((one) => one.id !== props.idea.id && TAKES_IN.includes(one.stage)),
)
const pick = computed({ get: () => chosen.value ?? undefined, set: (now) => (chosen.value = now ?? null) })
const known = computed(() => props.idea.matches.find((one) => one.id === chosen.value))
const later = useSoon()
const merge = useAction(async () => {
  const params = { path: { number: props.idea.id } }
  const body = { into: chosen.value ?? 0, why: why.value }
  const send = (init: object) => ask(api.POST('/api/v1/ideas/{number}/merge', { params, body, ...init }))
  if (props.soon && why.value.trim())
    later(
      `I-${props.idea.id} ${props.idea.title} goes on in I-${chosen.value}`,
      `/ideas/${props.idea.id}`,
      send,
      unsent.sent(),
    )
  else {
    await send({})
    unsent.done()
  }
  emit('done')
})
const unsent = useDraft('Why they are one', () => `merge-${props.idea.id}`, { chosen, why })
</script>

<template>
  <form class="note stack tight" @submit.prevent="merge.go()">
    <DraftNote :draft="unsent" />
    <p v-if="known">
      It goes on in <b>I-{{ known.id }} {{ known.title }}</b
      >.
    </p>
    <template v-else>
      <Field v-slot="{ id }" label="In which idea does it go on?" :fault="faultOf(merge.error.value, 'into')"
        ><el-input :id="id" v-model="text" placeholder="Words of its title"
      /></Field>
      <div class="choices" role="radiogroup" aria-label="Ideas to go on in">
        <el-radio v-for="one in choices" :key="one.id" v-model="pick" :value="one.id"
          >I-{{ one.id }} {{ one.title }}
          <span class="quiet">{{ one.stage }}, {{ one.proposer }}</span></el-radio
        >
        <p v-if="found.data.value && !choices.length" class="quiet">
          No idea that is alive fits these words.
        </p>
      </div>
    </template>
    <Field v-slot="{ id }" label="Why, if it is not plain"
      ><el-input :id="id" v-model="why" maxlength="500" style="--chars: 48"
    /></Field>
    <p class="quiet">
      {{ idea.proposer }} becomes one who does that work too, with the volume given; those who joined or
      follow go along. What was said and shown stays on this page, which stays reachable from the other one.
    </p>
    <FormEnd
      :action="chosen ? `Merge it into I-${chosen}` : 'Merge it'"
      :busy="merge.busy.value"
      :error="merge.error.value"
      :fields="['into']"
      :wait="chosen ? '' : 'Choose the idea first.'"
      leave="Cancel"
      @leave="emit('leave')"
    />
  </form>
</template>

<style scoped>
.choices {
  display: grid;
  gap: 4px;
}
</style>

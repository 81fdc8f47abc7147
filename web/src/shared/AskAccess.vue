<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, ask } from '@/api/client'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import Problem from '@/shared/Problem.vue'
import { useDraft } from '@/shared/unsaved'
import DraftNote from '@/shared/DraftNote.vue'

/** Asks those who can give access; the request waits on their Today. */
const props = defineProps<{ permission?: string; area?: number | null }>()
const emit = defineEmits<{ done: [] }>()
const words = ref('')
const sent = ref(false)
const mine = useQuery({
  queryKey: ['access', 'of-me'],
  queryFn: () => ask(api.GET('/api/v1/access/mine')),
})
const asked = computed(() =>
  (mine.data.value?.lines ?? [])
    .flatMap((line) => line.lacks)
    .find((one) => one.permission === props.permission),
)
const send = useAction(async () => {
  await ask(
    api.POST('/api/v1/access/requests', {
      body: { permission: props.permission ?? '', area: props.area ?? null, words: words.value },
    }),
  )
  unsent.done()
  sent.value = true
  emit('done')
}, [
  ['access', 'my-requests'],
  ['notifications', 'me'],
])
const unsent = useDraft('What you need access for', () => `access-${props.permission ?? ''}`, { words })
</script>

<template>
  <p v-if="sent" class="note" role="status">
    Asked. The answer comes to you as a message, and by mail; what you asked stands in your profile.
  </p>
  <form v-else class="note stack tight" @submit.prevent="send.go()">
    <DraftNote :draft="unsent" />
    <p v-if="permission">
      You ask for <b>{{ asked?.words ?? permission }}</b> ({{ permission }}).
    </p>
    <Field
      v-slot="{ id }"
      label="What do you need it for, and for which area?"
      :fault="faultOf(send.error.value, 'words')"
      :help="mine.data.value?.givers.length ? `It goes to ${mine.data.value.givers.join(' and ')}.` : ''"
      ><el-input :id="id" v-model="words" maxlength="500"
    /></Field>
    <Problem :error="send.error.value" :fields="['words']" />
    <p>
      <el-button :disabled="send.busy.value || !words.trim()" type="primary" native-type="submit"
        >Ask for it</el-button
      >
    </p>
  </form>
</template>

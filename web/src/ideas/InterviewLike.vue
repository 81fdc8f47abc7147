<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { ref, toRef } from 'vue'
import { useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import JoinIdea from './JoinIdea.vue'

/** Ideas of others that say the same: to be joined instead of asked again. */
const props = defineProps<{
  id: number
  title: string
  what: string
  keep: () => Promise<boolean>
}>()
const router = useRouter()
const joining = ref<number | null>(null)
/** What was typed is kept first: it is what the other idea is like. */
async function beginJoin(other: number) {
  if (await props.keep()) joining.value = other
}
const typed = refDebounced(toRef(props, 'title'), 350)
const similar = useQuery({
  queryKey: ['ideas', 'similar', typed],
  enabled: () => typed.value.length > 4,
  queryFn: () =>
    ask(
      api.GET('/api/v1/ideas/similar', {
        params: { query: { title: typed.value, what: props.what, but: props.id } },
      }),
    ),
})
</script>

<template>
  <section v-if="similar.data.value?.length" class="stack tight">
    <h2>Like what others handed in</h2>
    <div v-for="one in similar.data.value" :key="one.id">
      I-{{ one.id }} {{ one.title ?? 'is seen by those with a part in it' }}
      <div class="quiet">{{ one.stage ? `${one.stage}; both` : 'Both' }} say {{ one.words.join(', ') }}</div>
      <JoinIdea
        v-if="joining === one.id"
        :idea="one.id"
        :draft="id"
        @done="router.push(`/ideas/${one.id}?sheet=talk`)"
        @leave="joining = null"
      />
      <el-button v-else-if="one.may_join" link type="primary" @click="beginJoin(one.id)">
        It is the same work: join it
      </el-button>
    </div>
    <p class="quiet">Joining counts your volume there, and spares you the interview; this draft is kept.</p>
  </section>
</template>

<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, ask } from '@/api/client'
import When from '@/shared/When.vue'
import AskAccess from '@/shared/AskAccess.vue'

/** What I may do and where, what I asked for, and how to ask for more. */
const asking = ref(false)
const query = useQuery({ queryKey: ['access', 'of-me'], queryFn: () => ask(api.GET('/api/v1/access/mine')) })
const requests = useQuery({
  queryKey: ['access', 'my-requests'],
  queryFn: () => ask(api.GET('/api/v1/access/requests/mine')),
})
const lines = computed(() => (query.data.value?.lines ?? []).filter((line) => line.may.length))
</script>

<template>
  <section v-if="query.data.value" class="stack tight">
    <div class="spread">
      <h2>What I may do</h2>
      <el-button @click="asking = !asking">Ask for more</el-button>
    </div>
    <AskAccess v-if="asking" />
    <p v-if="!query.data.value.held.length">
      You hold no role yet: you may hand in ideas, and see those you have a part in.
      <template v-if="query.data.value.givers.length"
        >{{ query.data.value.givers.join(' or ') }} can give you more.</template
      >
    </p>
    <p v-for="one in query.data.value.held" :key="one.role + one.where + one.group">
      <b>{{ one.role }}</b> for {{ one.where
      }}<template v-if="one.group">, by the group {{ one.group }}</template>
    </p>
    <p v-for="line in lines" :key="line.subject" class="quiet">
      {{ line.subject }}:
      {{
        line.may
          .map((one) => (one.where === 'the whole company' ? one.words : `${one.words} (${one.where})`))
          .join('; ')
      }}
    </p>
    <template v-if="requests.data.value?.length">
      <h3>What I asked for</h3>
      <p v-for="one in requests.data.value" :key="one.id">
        “{{ one.words }}”: <b>{{ one.state }}</b><template v-if="one.decided_by">
          by {{ one.decided_by }}</template
        ><template v-if="one.answer">: {{ one.answer }}</template>
        <span class="quiet">, <When :at="one.decided_at ?? one.made_at" /></span>
      </p>
    </template>
  </section>
</template>

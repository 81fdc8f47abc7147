<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import Choice from '@/shared/Choice.vue'
import Loaded from '@/shared/Loaded.vue'
import FileSides from './FileSides.vue'
import ReleaseChanges from './ReleaseChanges.vue'

/** What is different in a release since the one before it, or since any other; files open side by side. */
const props = defineProps<{ release: Pick<Schemas['Release'], 'id' | 'versions' | 'says' | 'person'> }>()
const other = ref<number | null>(null)
const open = ref('')
watch([() => props.release.id, other], () => (open.value = ''))
watch(
  () => props.release.id,
  () => (other.value = null),
)
const query = useQuery({
  queryKey: ['packages', 'differences', () => props.release.id, other],
  placeholderData: keepPreviousData,
  queryFn: () =>
    ask(
      api.GET('/api/v1/releases/{number}/differences', {
        params: { path: { number: props.release.id }, query: { other: other.value } },
      }),
    ),
})
const data = computed(() => query.data.value)
const others = computed(() =>
  props.release.versions
    .filter((one) => one.id !== props.release.id)
    .map((one) => ({ value: one.id, words: one.version })),
)
</script>

<template>
  <section v-if="others.length" class="stack tight">
    <div class="spread">
      <h2>What is different</h2>
      <label class="row"
        ><span class="quiet">since</span>
        <Choice
          :model-value="other ?? data?.before_id ?? null"
          :options="others"
          label="since"
          placeholder="choose a release"
          @update:model-value="(now) => (other = now)"
      /></label>
    </div>
    <Loaded :pending="query.isPending.value" :error="query.error.value">
      <template v-if="data">
        <p v-if="!data.before" class="quiet">It is the first release; choose another to set it against.</p>
        <template v-else>
          <p>
            Since {{ data.before }}: <b>{{ data.found }}</b><template v-if="release.says && other === null"
              >; {{ release.person }} said {{ release.says }}</template
            >.
          </p>
          <ReleaseChanges :changes="data.changes">
            <template #file="{ path }">
              <el-button
                link
                type="primary"
                :aria-expanded="open === path"
                @click="open = open === path ? '' : path"
                >side by side<span class="unseen">: {{ path }}</span></el-button
              >
              <FileSides
                v-if="open === path && data.before_id"
                :release="release.id"
                :other="data.before_id"
                :name="path"
              />
            </template>
          </ReleaseChanges>
        </template>
      </template>
    </Loaded>
  </section>
</template>

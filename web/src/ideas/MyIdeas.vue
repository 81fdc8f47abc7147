<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, ask } from '@/api/client'
import Glyph from '@/shared/Glyph.vue'
import Loaded from '@/shared/Loaded.vue'
import When from '@/shared/When.vue'

/** My ideas, by what they need: mine to do first, then what moves, then what rests. */
const query = useQuery({ queryKey: ['ideas', 'mine'], queryFn: () => ask(api.GET('/api/v1/ideas/mine')) })
const groups = computed(() =>
  [
    { name: 'needs you', title: 'Needs you' },
    { name: 'moving', title: 'Moving' },
    { name: 'resting', title: 'Resting' },
  ]
    .map((group) => ({
      ...group,
      rows: (query.data.value ?? []).filter((row) => row.group === group.name),
    }))
    .filter((group) => group.rows.length),
)
</script>

<template>
  <Loaded :pending="query.isPending.value" :error="query.error.value" :empty="!query.data.value?.length">
    <template #empty>
      You have not handed in an idea yet. <router-link to="/ideas/new">It takes five minutes.</router-link>
    </template>
    <div class="stack">
      <section v-for="group in groups" :key="group.name">
        <h2>{{ group.title }}</h2>
        <table class="ledger">
          <tbody>
            <tr v-for="idea in group.rows" :key="idea.id">
              <td style="width: 120px">
                <Glyph :state="idea.stage" />
                <div v-if="idea.building" class="quiet">{{ idea.building }}</div>
              </td>
              <td>
                <router-link
                  class="whole"
                  :to="idea.stage === 'draft' ? `/ideas/new/${idea.id}` : `/ideas/${idea.id}`"
                  >I-{{ idea.id }} {{ idea.title || 'without a name' }}</router-link
                >
                <div class="quiet">{{ idea.words }}</div>
              </td>
              <td class="num">
                <template v-if="idea.due_on">by <When :at="idea.due_on" /></template>
                <div class="quiet">since <When :at="idea.stage_since" day /></div>
              </td>
            </tr>
          </tbody>
        </table>
      </section>
    </div>
  </Loaded>
</template>

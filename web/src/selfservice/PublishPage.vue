<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { api, ask } from '@/api/client'
import { plural, several } from '@/shared/format'
import Glyph from '@/shared/Glyph.vue'
import Loaded from '@/shared/Loaded.vue'
import PageState from './PageState.vue'
import PublishForm from './PublishForm.vue'
import { PAGE_SHAPES } from './standing'
import WhatIsSaid from './WhatIsSaid.vue'

/** A routine's page for colleagues: what it says and asks, for whom it is, and how it is used. */
const route = useRoute()
const id = computed(() => Number(route.params.id))
const query = useQuery({
  queryKey: ['routines', 'self-service', 'setup', id],
  queryFn: () =>
    ask(api.GET('/api/v1/routines/{number}/service-page', { params: { path: { number: id.value } } })),
})
const page = computed(() => query.data.value)
</script>

<template>
  <Loaded :pending="query.isPending.value" :error="query.error.value">
    <div v-if="page" class="stack">
      <div class="spread">
        <div>
          <p class="quiet">
            <router-link to="/workshop?tab=pages">Workshop</router-link> ·
            <router-link :to="`/workshop/routines/${page.routine_id}`">{{ page.routine }}</router-link>
          </p>
          <h1>{{ page.id ? page.title : `Publish ${page.routine} to colleagues` }}</h1>
          <p v-if="page.state" class="lead">
            <Glyph :state="PAGE_SHAPES[page.state]" :word="page.state" /><template v-if="page.sums"
              >, used {{ several(page.sums.runs, 'time', 'times') }} by {{ page.sums.people }}
              {{ plural(page.sums.people, 'colleague', 'colleagues') }}</template
            >
          </p>
          <p v-else class="lead">
            A plain page in Self-service: colleagues who see nothing else of the Workshop start it themselves.
          </p>
        </div>
        <router-link v-if="page.id" :to="`/self-service/${page.id}`" class="button"
          >As colleagues see it</router-link
        >
      </div>
      <p v-if="page.why" class="note care">{{ page.why }}</p>
      <div v-if="page.against.length && page.state !== 'open'" class="note care">
        <p>It cannot be published yet:</p>
        <ul>
          <li v-for="one in page.against" :key="one">{{ one }}.</li>
        </ul>
      </div>
      <p v-if="page.on_trial" class="note">
        The routine is on trial: what colleagues start works as ever, and posts nothing to the tally until it
        goes live.
      </p>
      <p v-if="!page.may" class="note">
        You see it, and do not change it: publishing is for those who may let routines go live in its area.
      </p>
      <PageState v-if="page.may && page.id && page.state" :page="page" />
      <PublishForm :key="page.routine_id" :page="page" />
      <WhatIsSaid v-if="page.id" :said="page.said" />
    </div>
  </Loaded>
</template>

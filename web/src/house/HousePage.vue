<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { api, ask } from '@/api/client'
import { useMe } from '@/shared/session'
import Loaded from '@/shared/Loaded.vue'
import MarginNotes from '@/shared/MarginNotes.vue'
import HouseTabs from '@/shared/HouseTabs.vue'

/** All house rules that the reader may see, each with how it stands. */
const query = useQuery({ queryKey: ['house', 'rules'], queryFn: () => ask(api.GET('/api/v1/house')) })
const { may } = useMe()
</script>

<template>
  <div class="stack">
    <div>
      <h1>House rules</h1>
      <p class="lead">What is set for everyone. Each is also reached from where it is used.</p>
    </div>
    <HouseTabs />
    <Loaded :pending="query.isPending.value" :error="query.error.value" :empty="!query.data.value?.length">
      <template #empty>
        None of the house rules is yours to see.
        <router-link to="/profile?sheet=access">Your profile</router-link> says what you may do, and whom to
        ask.
      </template>
      <table class="ledger">
        <thead>
          <tr>
            <th>Rule</th>
            <th>What it is for</th>
            <th class="num">How it stands</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in query.data.value" :key="one.link">
            <td>
              <router-link class="whole" :to="one.link">{{ one.title }}</router-link>
            </td>
            <td>{{ one.words }}</td>
            <td class="num">{{ one.fact }}</td>
          </tr>
        </tbody>
      </table>
    </Loaded>
    <MarginNotes>
      <section class="stack tight">
        <h2>Who changes what</h2>
        <p class="quiet">
          Each change is in the audit trail, with what was before. Who sets rates should not close the month,
          and who sizes ideas should not alone back them:
          <router-link v-if="may('role.see')" to="/house/roles">Roles</router-link
          ><template v-else>roles</template>
          say where one person holds both.
        </p>
      </section>
    </MarginNotes>
  </div>
</template>

<script setup lang="ts">
import { ref } from 'vue'
import type { Schemas } from '@/api/client'
import { useMe } from '@/shared/session'
import GiveRole from './GiveRole.vue'

/** Who holds a role, and for what; it is given to others here. */
defineProps<{ role: number; holding: Schemas['HolderOut'][] }>()
const { may } = useMe()
const giving = ref(false)
</script>

<template>
  <div class="stack tight">
    <div class="spread">
      <h3>Who holds it</h3>
      <el-button v-if="may('role.decide')" @click="giving = !giving">Give it to somebody</el-button>
    </div>
    <GiveRole v-if="giving" :key="role" :role="role" @done="giving = false" @leave="giving = false" />
    <p v-if="!holding.length" class="quiet">Nobody.</p>
    <p v-for="one in holding" :key="one.id">
      <router-link v-if="one.person_id && may('person.see')" :to="`/house/people/${one.person_id}`">{{
        one.person
      }}</router-link>
      <template v-else-if="one.person_id">{{ one.person }}</template>
      <template v-else>the group {{ one.grp }}</template>
      for {{ one.where }}
    </p>
  </div>
</template>

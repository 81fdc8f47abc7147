<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { ref } from 'vue'
import { api, ask } from '@/api/client'
import { useMe } from '@/shared/session'
import GroupForm from './GroupForm.vue'
import { several } from '@/shared/format'

/** Groups, which hold roles together. */
const { may } = useMe()
const open = ref<number | 'new' | null>(null)
const query = useQuery({
  queryKey: ['access', 'groups'],
  queryFn: () => ask(api.GET('/api/v1/access/groups')),
})
</script>

<template>
  <section class="stack tight">
    <div class="spread">
      <h2>Groups</h2>
      <el-button v-if="may('person.change')" @click="open = 'new'">Make a group</el-button>
    </div>
    <GroupForm v-if="open === 'new'" @done="open = null" @leave="open = null" />
    <p v-if="query.data.value && !query.data.value.length && open !== 'new'" class="note">
      No group yet. A group holds roles for everybody in it, so that a newcomer needs one click.
    </p>
    <table v-else-if="query.data.value?.length" class="ledger">
      <tbody>
        <template v-for="group in query.data.value" :key="group.id">
          <tr>
            <td>
              <el-button link type="primary" @click="open = open === group.id ? null : group.id"
                >{{ group.name }}
              </el-button>
              <div class="quiet">{{ group.about }}</div>
            </td>
            <td class="quiet">{{ group.claim ? `follows the claim ${group.claim}` : '' }}</td>
            <td class="num">{{ several(group.members, 'person', 'people') }}</td>
          </tr>
          <tr v-if="open === group.id">
            <td colspan="3"><GroupForm :group="group.id" @done="open = null" @leave="open = null" /></td>
          </tr>
        </template>
      </tbody>
    </table>
  </section>
</template>

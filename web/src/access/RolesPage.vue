<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask, type Schemas } from '@/api/client'
import { seeAs } from '@/api/seeing'
import { useMe } from '@/shared/session'
import { useAction } from '@/shared/action'
import Loaded from '@/shared/Loaded.vue'
import MarginNotes from '@/shared/MarginNotes.vue'
import Problem from '@/shared/Problem.vue'
import HouseTabs from '@/shared/HouseTabs.vue'
import RoleForm from './RoleForm.vue'
import RoleHolders from './RoleHolders.vue'

/** Roles: what each allows, in words, who holds it, and own ones made by copying and ticking. */
const route = useRoute()
const router = useRouter()
const { everywhere, may } = useMe()
const query = useQuery({ queryKey: ['access', 'roles'], queryFn: () => ask(api.GET('/api/v1/access/roles')) })
const holders = useQuery({
  queryKey: ['access', 'holders'],
  queryFn: () => ask(api.GET('/api/v1/access/holders')),
})
const editing = ref<{ role: Schemas['RoleOut']; copy: boolean } | null>(null)
const chosen = computed(() => {
  const all = query.data.value?.roles ?? []
  return all.find((one) => one.id === Number(route.query.role)) ?? all.find((one) => one.name === 'lead')
})
const holding = computed(() => (holders.data.value ?? []).filter((one) => one.role_id === chosen.value?.id))
const companyOnly = computed(() => {
  const names = new Set(chosen.value?.company_only.map((one) => one.split('.')[0]))
  return (query.data.value?.subjects ?? [])
    .filter((one) => names.has(one.name))
    .map((one) => one.title.toLowerCase())
    .join(', ')
})
function choose(id: number) {
  editing.value = null
  void router.replace({ query: { role: id } })
}
const askFactor = useAction((role: Schemas['RoleOut']) =>
  ask(
    api.PUT('/api/v1/access/roles/{number}', {
      params: { path: { number: role.id }, header: { 'if-match': `"${role.version}"` } },
      body: {
        name: role.name,
        about: role.about,
        permissions: role.permissions,
        second_factor: !role.second_factor,
        copied_from: role.copied_from,
      },
    }),
  ),
)
const retire = useAction((id: number) =>
  ask(api.DELETE('/api/v1/access/roles/{number}', { params: { path: { number: id } } })),
)
</script>

<template>
  <div class="stack">
    <div>
      <h1>Roles</h1>
      <p class="lead">What each role allows. Built-in ones stay as they are; copy one to change it.</p>
    </div>
    <HouseTabs />
    <Loaded :pending="query.isPending.value" :error="query.error.value">
      <div v-if="query.data.value" class="sides">
        <nav aria-label="Roles">
          <el-button
            v-for="one in query.data.value.roles"
            :key="one.id"
            class="role"
            :class="{ on: chosen?.id === one.id }"
            :aria-current="chosen?.id === one.id ? 'true' : undefined"
            @click="choose(one.id)"
          >
            <span>{{ one.name }}</span>
            <span class="quiet">{{ one.built_in ? '' : 'own' }} {{ one.holders || '' }}</span>
          </el-button>
        </nav>
        <RoleForm
          v-if="editing"
          :key="`${editing.role.id}-${editing.copy}`"
          :role="editing.role"
          :copy="editing.copy"
          :subjects="query.data.value.subjects"
          :duties="query.data.value.duties"
          @done="editing = null"
          @leave="editing = null"
        />
        <section v-else-if="chosen" class="stack">
          <div class="spread">
            <div>
              <h2>{{ chosen.name }}</h2>
              <p class="quiet">
                {{ chosen.about
                }}{{
                  chosen.copied_from ? (chosen.about ? '; ' : '') + `copied from ${chosen.copied_from}` : ''
                }}
              </p>
            </div>
            <div class="row">
              <el-button v-if="may('access.see')" @click="seeAs(`role:${chosen.id}`)"
                >See as this role</el-button
              >
              <el-button
                v-if="everywhere('role.change') && !chosen.built_in"
                @click="editing = { role: chosen, copy: false }"
              >
                Change it
              </el-button>
              <el-button v-if="everywhere('role.make')" @click="editing = { role: chosen, copy: true }"
                >Copy it</el-button
              >
            </div>
          </div>
          <p v-for="words in chosen.breaches" :key="words" class="note care">
            Together in one role, this defeats the separation of duties: {{ words }}.
          </p>
          <p>
            <template v-if="chosen.second_factor">Who holds it needs a second factor.</template>
            <template v-else>It asks for no second factor.</template>
            <el-button
              v-if="everywhere('role.change') && chosen.built_in"
              :disabled="askFactor.busy.value"
              link
              type="primary"
              @click="askFactor.go(chosen)"
              >{{ chosen.second_factor ? 'Ask for none' : 'Ask for one' }}
            </el-button>
          </p>
          <Problem :error="askFactor.error.value" />
          <div>
            <h3>What this allows</h3>
            <ul>
              <li v-for="line in chosen.words" :key="line">{{ line }}</li>
            </ul>
            <p v-if="chosen.company_only.length" class="quiet">
              Held for an area only, it does not reach what belongs to the whole company:
              {{ companyOnly }}.
            </p>
          </div>
          <RoleHolders :key="chosen.id" :role="chosen.id" :holding="holding" />
          <Problem :error="retire.error.value" />
          <p v-if="everywhere('role.retire') && !chosen.built_in">
            <el-button :disabled="retire.busy.value" @click="retire.go(chosen.id)">Take out of use</el-button>
          </p>
        </section>
      </div>
    </Loaded>
    <MarginNotes>
      <section class="stack tight">
        <h2>Subject and act</h2>
        <p class="quiet">
          A permission is a subject and an act: see, make, change, decide or retire. Routines, runs, robots,
          ideas and the tally lie in areas; people, mail, health and the audit trail belong to the company.
        </p>
      </section>
    </MarginNotes>
  </div>
</template>

<style scoped>
.sides {
  display: grid;
  grid-template-columns: 170px minmax(0, 1fr);
  gap: 32px;
  align-items: start;
}
.role {
  display: flex;
  justify-content: space-between;
  width: 100%;
  border: 0;
  border-bottom: 1px solid var(--hair);
  padding: 6px 8px;
  color: var(--ink);
  font-weight: 400;
  text-align: left;
}
.role.on {
  font-weight: 600;
  background: var(--act-soft);
}
ul {
  margin: 4px 0;
  padding-left: 18px;
}
@media (max-width: 700px) {
  .sides {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>

<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import Loaded from '@/shared/Loaded.vue'
import MarginNotes from '@/shared/MarginNotes.vue'
import When from '@/shared/When.vue'
import HouseTabs from '@/shared/HouseTabs.vue'
import SecretForm from './SecretForm.vue'
import SecretUses from './SecretUses.vue'

/** The safe: which secrets there are, until when they are good, and who used each. */
const route = useRoute()
const router = useRouter()
const query = useQuery({ queryKey: ['safe', 'all'], queryFn: () => ask(api.GET('/api/v1/secrets')) })
const safe = computed(() => query.data.value)
const making = ref(route.query.add === 'secret')
const open = computed(() => Number(route.query.secret ?? 0))
function choose(id: number) {
  void router.replace({ query: { secret: open.value === id ? undefined : id } })
}
const wrapped = computed(() => safe.value?.keys.reduce((sum, key) => sum + key.secrets, 0) ?? 0)
const former = computed(() => safe.value?.keys.filter((key) => !key.current) ?? [])
</script>

<template>
  <div class="stack">
    <div class="spread">
      <div>
        <h1>Secrets</h1>
        <p class="lead">Secrets: used by robots and settings, shown to nobody.</p>
      </div>
      <el-button v-if="safe?.may_make" type="primary" @click="making = !making">Put one in</el-button>
    </div>
    <HouseTabs />
    <Loaded :pending="query.isPending.value" :error="query.error.value">
      <template v-if="safe">
        <SecretForm
          v-if="making && safe.may_make"
          :kinds="safe.kinds"
          @done="making = false"
          @leave="making = false"
        />
        <p v-if="!safe.secrets.length && !making" class="note">
          The safe is empty. A package names the secrets it wants in package.toml; put each in under that
          name.
        </p>
        <table v-else-if="safe.secrets.length" class="ledger">
          <thead>
            <tr>
              <th>Secret</th>
              <th>For</th>
              <th class="num">Value put in</th>
              <th class="num">Good until</th>
              <th class="num">Last used</th>
            </tr>
          </thead>
          <tbody>
            <template v-for="one in safe.secrets" :key="one.id">
              <tr :class="{ open: open === one.id }">
                <td>
                  <el-button :aria-expanded="open === one.id" link type="primary" @click="choose(one.id)"
                    >{{ one.name }}
                  </el-button>
                  <div class="quiet">
                    {{ one.of_people ? one.about || one.kind_words : 'changed where its settings are' }}
                  </div>
                </td>
                <td>{{ one.of_people ? (one.area ?? 'the whole company') : one.kind_words }}</td>
                <td class="num">
                  <When :at="one.changed_at" />
                  <div v-if="one.made_by" class="quiet">by {{ one.made_by }}</div>
                </td>
                <td class="num">
                  <template v-if="one.expires_on">
                    <When :at="one.expires_on" />
                    <div v-if="one.ends === 'soon'" class="quiet care">! ends soon</div>
                    <div v-else-if="one.ends === 'over'" class="quiet bad">× it is over</div>
                  </template>
                  <template v-else>no end</template>
                </td>
                <td class="num">
                  <When v-if="one.used_at" :at="one.used_at" /><template v-else>never</template>
                </td>
              </tr>
              <tr v-if="open === one.id">
                <td colspan="5">
                  <SecretUses :secret="one" />
                </td>
              </tr>
            </template>
          </tbody>
        </table>
      </template>
    </Loaded>
    <MarginNotes>
      <section class="stack tight">
        <h2>How they are kept</h2>
        <p class="quiet">
          Each value is sealed under a key of its own, and that key by one which lies outside the database.
          Nobody can read a value here: put in another when it is not known any more. A robot gets it for one
          run, if the package names it and the routine lies in its area; what a run says is cleaned of it.
        </p>
        <p class="quiet">
          It is found as it is, and as programs usually write it: in addresses, JSON, hexadecimal and base 64.
          What a package disguises on purpose can pass, and one of fewer than four characters goes only where
          it stands alone; so give a package no secret that its builder may not know.
        </p>
        <p v-if="safe?.keys.length" class="quiet">
          {{ wrapped }} values, all second factors included, are wrapped by
          <template v-for="key in safe.keys.filter((k) => k.current)" :key="key.key_id"
            >the current key {{ key.key_id }} ({{ key.secrets }})</template
          ><template v-for="key in former" :key="key.key_id"
            >, the former key {{ key.key_id }} ({{ key.secrets }})</template
          >. <b>./tallyman rotate-key</b> makes a new one while everything goes on.
        </p>
        <p v-if="safe" class="quiet">
          Who can change a secret is told {{ safe.early_days }} days before it ends.
        </p>
      </section>
    </MarginNotes>
  </div>
</template>

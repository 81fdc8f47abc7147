<script setup lang="ts">
import MarginNotes from '@/shared/MarginNotes.vue'

/** What a package holds and how its code speaks with its robot, for whoever builds one. */
</script>

<template>
  <MarginNotes>
    <section class="stack tight">
      <h2>What a package holds</h2>
      <p class="quiet">
        A zip with <code>package.toml</code> at its top and Python code. The manifest names it, its version,
        its entry, tags, inputs and outputs:
      </p>
      <pre>
name = "count-rows"
version = "1.0.0"
entry = "main.py"
tags = []

[inputs.list]
type = "string"
format = "file"
title = "List"
required = true

[outputs.rows]
type = "integer"</pre>
      <p class="quiet">The code imports the kit:</p>
      <pre>
import tallyman_kit as job

with job.step("Count"):
  file = open(job.inputs["list"])
  rows = list(file)
job.log(f"{len(rows)} rows")
job.count("rows", len(rows))
job.output(rows=len(rows))</pre>
      <p class="quiet">
        With <code>checkpoints = true</code> and <code>job.checkpoint(next=n)</code> between items its runs
        can be paused and go on elsewhere from <code>job.saved</code>.
      </p>
    </section>
  </MarginNotes>
</template>

<style scoped>
pre {
  margin: 0;
  font-size: 12px;
  line-height: 17px;
  overflow-x: auto;
  white-space: pre;
}
</style>

<template>
  <div class="stack tight">
    <h1>There is nothing at this address</h1>
    <p class="lead">It may be misspelt, or what stood here has moved.</p>
    <p><router-link to="/">Go to Today</router-link></p>
  </div>
</template>

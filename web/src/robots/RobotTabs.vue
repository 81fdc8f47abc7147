<template>
  <nav class="tabs" aria-label="Robots">
    <router-link to="/robots" active-class="" exact-active-class="on">Hosts and robots</router-link>
    <router-link to="/robots/seats" active-class="on">Seats</router-link>
  </nav>
</template>

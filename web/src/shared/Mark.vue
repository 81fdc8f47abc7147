<template>
  <svg viewBox="0 0 22 18" width="24" height="20" aria-hidden="true">
    <path
      d="M5 2v14M9 2v14M13 2v14M17 2v14M1.500 14.500L20.500 4"
      stroke="currentColor"
      stroke-width="1.800"
      fill="none"
    />
  </svg>
</template>

<script setup lang="ts">
import SignInAgain from '../people/SignInAgain.vue';
import { useThemeChoice } from './use-theme.ts';

useThemeChoice();
</script>

<template>
  <v-app>
    <RouterView />
    <SignInAgain />
  </v-app>
</template>

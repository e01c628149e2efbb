<script setup lang="ts">
import { sessionOperations, type NewFactor } from '@dravex/contract';
import { correction, generate } from 'lean-qr';
import { computed, ref } from 'vue';
import DialogSheet from '../kit/DialogSheet.vue';
import FormDialog from '../kit/FormDialog.vue';
import { call } from '../shell/client.ts';
import { useForm } from '../writing/use-form.ts';
import { TEXTS } from './texts.ts';
import { useSession } from './use-session.ts';

/** One's own second factor: set up with an authenticator, and taken away. */
const session = useSession();
const has = computed(() => session.session?.secondFactor ?? false);

const beginning = ref(false);
const factor = ref<NewFactor>();
const begin = useForm({
  fresh: () => ({ password: '' }),
  schema: sessionOperations.beginSecondFactor.body,
  send: async (body) => {
    factor.value = await call(sessionOperations.beginSecondFactor, {}, body);
  },
  done: () => {
    beginning.value = false;
    confirming.value = true;
  },
});
const confirming = ref(false);
const codes = ref<readonly string[]>([]);
const confirm = useForm({
  fresh: () => ({ code: '' }),
  schema: sessionOperations.confirmSecondFactor.body,
  send: async (body) => {
    const answer = await call(sessionOperations.confirmSecondFactor, {}, body);
    codes.value = answer.codes;
    await session.refresh();
  },
  done: () => {
    confirming.value = false;
    factor.value = undefined;
  },
});
/** The address of the factor as a picture of dark squares: a path within a square of its size. */
const picture = computed(() => {
  if (!factor.value) return undefined;
  const code = generate(factor.value.uri, { minCorrectionLevel: correction.M });
  let path = '';
  for (let y = 0; y < code.size; y += 1) {
    for (let x = 0; x < code.size; x += 1) if (code.get(x, y)) path += `M${x} ${y}h1v1h-1z`;
  }
  return { size: code.size, path };
});
const showsCodes = computed({
  get: () => codes.value.length > 0,
  set: (open) => {
    if (!open) codes.value = [];
  },
});
const copied = ref(false);
async function copy(): Promise<void> {
  await navigator.clipboard.writeText(codes.value.join('\n'));
  copied.value = true;
}

const dropping = ref(false);
const drop = useForm({
  fresh: () => ({ password: '', code: '' }),
  schema: sessionOperations.dropSecondFactor.body,
  send: async (body) => {
    await call(sessionOperations.dropSecondFactor, {}, body);
    await session.refresh();
  },
  done: () => (dropping.value = false),
});
</script>

<template>
  <section aria-labelledby="factor-title">
    <h2 id="factor-title">{{ TEXTS.secondFactor }}</h2>
    <p v-if="has">{{ TEXTS.signingInTakesYourPassword }}</p>
    <p v-else class="quiet">
      {{ TEXTS.withSecondFactorSigningIn }}
    </p>
    <v-btn v-if="has" color="primary" @click="dropping = true">{{
      TEXTS.turnOffSecondFactor
    }}</v-btn>
    <v-btn v-else color="primary" @click="beginning = true">{{ TEXTS.setUpSecondFactor }}</v-btn>

    <FormDialog
      v-model="beginning"
      :title="TEXTS.setUpSecondFactor"
      :action="TEXTS.continue"
      :width="360"
      v-bind="begin.dialog"
    >
      <v-text-field
        v-bind="begin.field('password')"
        :label="TEXTS.currentPassword"
        type="password"
        autocomplete="current-password"
      />
    </FormDialog>
    <FormDialog
      v-model="confirming"
      :title="TEXTS.addItToYourAuthenticator"
      :action="TEXTS.turnOn"
      :width="400"
      v-bind="confirm.dialog"
    >
      <p>{{ TEXTS.scanThisWithYourAuthenticator }}</p>
      <svg
        v-if="picture"
        class="picture"
        :viewBox="`-2 -2 ${picture.size + 4} ${picture.size + 4}`"
        role="img"
        :aria-label="TEXTS.qrCodeOfSecondFactor"
      >
        <path :d="picture.path" />
      </svg>
      <code data-secret>{{ factor?.secret }}</code>
      <v-text-field
        v-bind="confirm.field('code')"
        :label="TEXTS.codeThatItShowsNow"
        inputmode="numeric"
        autocomplete="one-time-code"
      />
    </FormDialog>
    <DialogSheet v-model="showsCodes" :title="TEXTS.recoveryCodes" :width="400">
      <p>
        {{ TEXTS.keepTheseWhereYouFind }}
      </p>
      <ul class="codes">
        <li v-for="code in codes" :key="code">
          <code>{{ code }}</code>
        </li>
      </ul>
      <template #actions>
        <v-btn color="primary" variant="flat" @click="copy">
          {{ copied ? TEXTS.copied : TEXTS.copyCodes }}
        </v-btn>
        <v-btn color="primary" @click="showsCodes = false">{{ TEXTS.done }}</v-btn>
      </template>
    </DialogSheet>
    <FormDialog
      v-model="dropping"
      :title="TEXTS.turnOffSecondFactor"
      :action="TEXTS.turnOff"
      :width="360"
      v-bind="drop.dialog"
    >
      <v-text-field
        v-bind="drop.field('password')"
        :label="TEXTS.currentPassword"
        type="password"
        autocomplete="current-password"
      />
      <v-text-field
        v-bind="drop.field('code')"
        :label="TEXTS.codeOrRecoveryCode"
        autocomplete="one-time-code"
      />
    </FormDialog>
  </section>
</template>

<style scoped>
section {
  display: grid;
  gap: 6px;
  justify-items: start;
}
.picture {
  width: 200px;
  background: #fff;
  fill: #000;
  justify-self: center;
}
.codes {
  columns: 2;
  list-style: none;
  padding: 0;
}
</style>

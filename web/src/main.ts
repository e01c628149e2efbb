import '@fontsource-variable/figtree';
import 'vuetify/styles';
import './shell/look.css';
import { createPinia } from 'pinia';
import { createApp } from 'vue';
import { createVuetify } from 'vuetify';
import App from './shell/App.vue';
import { router } from './shell/router.ts';
import { ink, paper } from './shell/theme.ts';

const nonce = document.querySelector<HTMLMetaElement>('meta[name="csp-nonce"]')?.content;
const vuetify = createVuetify({
  theme: {
    defaultTheme: 'paper',
    themes: { paper, ink },
    ...(nonce === undefined ? {} : { cspNonce: nonce }),
  },
});

createApp(App).use(createPinia()).use(router).use(vuetify).mount('#app');

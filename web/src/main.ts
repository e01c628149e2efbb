import '@fontsource-variable/figtree';
import 'vuetify/styles';
import './kit/look.css';
import './kit/controls.css';
import { createPinia } from 'pinia';
import { createApp } from 'vue';
import { holdKeysOfOpeningMenus } from './kit/opening-menus.ts';
import { dravexVuetify } from './kit/vuetify.ts';
import App from './shell/App.vue';
import { router } from './shell/router.ts';

holdKeysOfOpeningMenus();
const nonce = document.querySelector<HTMLMetaElement>('meta[name="csp-nonce"]')?.content;

createApp(App).use(createPinia()).use(router).use(dravexVuetify(nonce)).mount('#app');

export { tests as default } from '../../web/eslint.config.js';

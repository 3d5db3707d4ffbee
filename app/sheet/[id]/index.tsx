export { default } from './[stop]';

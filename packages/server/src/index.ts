export { createApp } from './app.ts'

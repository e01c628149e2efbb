export { createApp } from './api/app.ts';
export { connect, migrateUp, type Connections } from './platform/database.ts';
export { createPerson } from './people/service.ts';

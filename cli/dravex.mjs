#!/usr/bin/env node
/** Runs the command-line tool from its sources. */
import { register } from 'tsx/esm/api';

register();
await import('./src/main.ts');

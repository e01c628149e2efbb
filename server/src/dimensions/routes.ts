import { dimensionOperations } from '@dravex/contract';
import type { Router } from 'express';
import type { Connections } from '../platform/database.ts';
import { routesOf } from '../routing/routes.ts';
import { bringMembers } from './members-file.ts';
import * as service from './service.ts';

/** Dimensions, their members, and who belongs to which. */
export function dimensionRoutes(connections: Connections): Router {
  return routesOf(connections, dimensionOperations, {
    listDimensions: ({ actor }) => service.listDimensions(connections, actor),
    addDimension: ({ actor, body }) => service.addDimension(connections, actor, body),
    deleteDimension: ({ actor, name }) =>
      service.deleteDimension(connections, actor, name('dimension')),
    renameDimension: ({ actor, name, body }) =>
      service.renameDimension(connections, actor, name('dimension'), body.name),
    addMember: ({ actor, name, body }) =>
      service.addMember(connections, actor, name('dimension'), body),
    changeMember: ({ actor, name, id, body }) =>
      service.changeMember(connections, actor, name('dimension'), id('memberId'), body),
    dropMember: ({ actor, name, id }) =>
      service.dropMember(connections, actor, name('dimension'), id('memberId')),
    previewMerge: ({ actor, name, id, query }) =>
      service.previewMerge(connections, actor, name('dimension'), id('memberId'), query.into),
    mergeMember: ({ actor, name, id, body }) =>
      service.mergeMember(connections, actor, name('dimension'), id('memberId'), body.into),
    bringMembers: ({ actor, name, query, file }) =>
      bringMembers(connections, actor, name('dimension'), file, query.apply === 'yes'),
    listAssignments: ({ actor, name }) =>
      service.listAssignments(connections, actor, name('dimension')),
    assignCustomers: ({ actor, name, body }) =>
      service.assignCustomers(connections, actor, name('dimension'), body.assignments),
  });
}

import { dimensionOperations } from '@dravex/contract';
import type { Router } from 'express';
import type { Connections } from '../platform/database.ts';
import { routesOf } from '../routing/routes.ts';
import { bringMembers } from './members-file.ts';
import * as assignments from './assignments.ts';
import * as members from './members.ts';
import * as service from './service.ts';
import { tellApart } from './tell-apart.ts';

/** Dimensions, their members, and who belongs to which. */
export function dimensionRoutes(connections: Connections): Router {
  return routesOf(connections, dimensionOperations, (connections) => ({
    listDimensions: ({ actor }) => service.listDimensions(connections, actor),
    addDimension: ({ actor, body }) => service.addDimension(connections, actor, body),
    deleteDimension: ({ actor, name }) =>
      service.deleteDimension(connections, actor, name('dimension')),
    renameDimension: ({ actor, name, body }) =>
      service.renameDimension(connections, actor, name('dimension'), body.name),
    addMember: ({ actor, name, body }) =>
      members.addMember(connections, actor, name('dimension'), body),
    changeMember: ({ actor, name, id, body }) =>
      members.changeMember(connections, actor, name('dimension'), id('memberId'), body),
    dropMember: ({ actor, name, id }) =>
      members.dropMember(connections, actor, name('dimension'), id('memberId')),
    previewMerge: ({ actor, name, id, query }) =>
      members.previewMerge(connections, actor, name('dimension'), id('memberId'), query.into),
    mergeMember: ({ actor, name, id, body }) =>
      members.mergeMember(connections, actor, name('dimension'), id('memberId'), body.into),
    tellApart: ({ actor, name, body, query }) =>
      tellApart(connections, actor, name('dimension'), body, query.apply === 'yes'),
    bringMembers: ({ actor, name, query, file }) =>
      bringMembers(connections, actor, name('dimension'), file, query.apply === 'yes'),
    listAssignments: ({ actor, name }) =>
      assignments.listAssignments(connections, actor, name('dimension')),
    assignCustomers: ({ actor, name, body }) =>
      assignments.assignCustomers(connections, actor, name('dimension'), body.assignments),
  }));
}

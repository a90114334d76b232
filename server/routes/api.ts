import {
  createAxisSchema,
  createMachineSchema,
  readDriveProfile,
  saveAxisSchema,
  saveMachineSchema,
} from '@kavrid/contract';
import express, { Router } from 'express';
import type { Saved, Store } from '../database/store.ts';
import { bodyOf, notFound, ProblemError } from '../problem.ts';

/** Told when an axis has been saved, so that open windows and sessions work with the newest. */
export type AxisSaved = (axisId: string, version: number) => void;

function savedOrThrow<T extends { readonly version: number }>(saved: Saved<T>, what: string): T {
  switch (saved.kind) {
    case 'saved':
      return saved.record;
    case 'missing':
      throw notFound(what);
    case 'stale':
      throw new ProblemError(409, `This ${what} has been saved in another window since.`, {
        detail: `The newest version is ${saved.record.version}. Nothing has been overwritten.`,
      });
  }
}

export function apiRoutes(store: Store, axisSaved: AxisSaved): Router {
  const api = Router();
  api.use(express.json({ limit: '1mb', type: 'application/json' }));

  api.get('/health', async (_request, response) => {
    const database = await store.isUp();
    response.status(database ? 200 : 503).json({ status: database ? 'ok' : 'degraded', database });
  });

  api.get('/machines', async (_request, response) => void response.json(await store.machines()));
  api.post('/machines', async (request, response) => {
    const id = await store.createMachine(bodyOf(createMachineSchema, request.body).document);
    response.status(201).json(await store.machine(id));
  });
  api.get('/machines/:id', async (request, response) => {
    const machine = await store.machine(request.params.id);
    if (!machine) throw notFound('machine');
    response.json(machine);
  });
  api.put('/machines/:id', async (request, response) => {
    const { version, document } = bodyOf(saveMachineSchema, request.body);
    response.json(savedOrThrow(await store.saveMachine(request.params.id, version, document), 'machine'));
  });
  api.delete('/machines/:id', async (request, response) => {
    if (!(await store.deleteMachine(request.params.id))) throw notFound('machine');
    response.status(204).end();
  });

  api.post('/machines/:id/axes', async (request, response) => {
    const axis = await store.createAxis(request.params.id, bodyOf(createAxisSchema, request.body).document);
    if (!axis) throw notFound('machine');
    response.status(201).json(axis);
  });
  api.get('/axes/:id', async (request, response) => {
    const axis = await store.axis(request.params.id);
    if (!axis) throw notFound('axis');
    response.json(axis);
  });
  api.put('/axes/:id', async (request, response) => {
    const { version, document } = bodyOf(saveAxisSchema, request.body);
    const record = savedOrThrow(await store.saveAxis(request.params.id, version, document), 'axis');
    axisSaved(record.id, record.version);
    response.json(record);
  });
  api.delete('/axes/:id', async (request, response) => {
    if (!(await store.deleteAxis(request.params.id))) throw notFound('axis');
    response.status(204).end();
  });

  api.get('/axes/:id/runs', async (request, response) => void response.json(await store.runs(request.params.id)));
  api.get('/runs/:id', async (request, response) => {
    const run = await store.run(request.params.id);
    if (!run) throw notFound('run');
    response.json(run);
  });

  api.get('/library', async (_request, response) => void response.json(await store.library()));
  api.get('/profiles', async (_request, response) => void response.json(await store.profiles()));
  api.post('/profiles', express.text({ limit: '1mb', type: 'text/csv' }), async (request, response) => {
    const csv: unknown = request.body;
    const read = readDriveProfile(typeof csv === 'string' ? csv : '');
    if (read.kind === 'refused') {
      throw new ProblemError(422, 'This register map cannot be used.', {
        errors: read.problems.map((detail) => ({ pointer: '', detail })),
      });
    }
    response.status(201).json({ id: await store.addProfile(read.profile, csv as string), profile: read.profile });
  });
  return api;
}

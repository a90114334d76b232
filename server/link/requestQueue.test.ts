import { describe, expect, it } from 'vitest';
import { RequestQueue } from './requestQueue.ts';

describe('RequestQueue', () => {
  it('runs one at a time and lets a stop overtake all that waits', async () => {
    const queue = new RequestQueue();
    const order: string[] = [];
    const job = (name: string, urgent = false) =>
      queue.run(async () => {
        await new Promise((resolve) => setTimeout(resolve, 5));
        order.push(name);
      }, urgent);
    const jobs = [job('a'), job('b'), job('c'), job('stop', true)];
    const failing = queue.run(() => Promise.reject(new Error('no')));
    await expect(failing).rejects.toThrow('no');
    await Promise.all(jobs);
    expect(order).toEqual(['a', 'stop', 'b', 'c']);
  });
});

import { z } from 'zod';

/** Zod would compile its schemas with `new Function`, which the content security policy of our pages rightly forbids. */
z.config({ jitless: true });

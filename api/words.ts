import { z } from 'zod';

export const titleSchema = z.string().trim().min(1, 'Give it a name.').max(200);

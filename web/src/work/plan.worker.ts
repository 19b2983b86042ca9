import { inspectTasks } from '@basitax/core/work/inspect-tasks';
import { planTasks } from '@basitax/core/work/plan-tasks';
import { serve } from './serve.ts';

serve({ ...planTasks, ...inspectTasks });

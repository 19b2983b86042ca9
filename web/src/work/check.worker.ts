import { checkTasks } from '@basitax/core/work/check-tasks';
import { serve } from './serve.ts';

serve(checkTasks);

import { scriptTasks } from '@basitax/core/work/script-tasks';
import { serve } from './serve.ts';

serve(scriptTasks);

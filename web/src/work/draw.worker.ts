import { drawTasks } from '@basitax/core/work/draw-tasks';
import { serve } from './serve.ts';

serve(drawTasks);

import { walkSteps } from './steps';

walkSteps('Orrery Hall', 0);

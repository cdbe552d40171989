import { walkSteps } from './steps';

walkSteps('Orrery Hall');

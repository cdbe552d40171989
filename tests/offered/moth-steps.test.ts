import { walkSteps } from './steps';

walkSteps('Moth and Comet');

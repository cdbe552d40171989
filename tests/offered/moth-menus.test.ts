import { walkMenus } from './menus';

walkMenus('Moth and Comet');

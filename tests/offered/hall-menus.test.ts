import { walkMenus } from './menus';

walkMenus('Orrery Hall');

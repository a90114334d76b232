import { eachAlone } from './screen.tsx';

eachAlone();

export { CardsPart } from './CardsPart';
export { HomePage } from './HomePage';
export { PracticePart } from './PracticePart';

import { keysPart } from '../ui/screens/parts';

export default keysPart.Part;

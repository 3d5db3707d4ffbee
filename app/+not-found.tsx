export { NotFoundScreen as default } from '../ui/screens/not-found-screen';

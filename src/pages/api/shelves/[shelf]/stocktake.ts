export { getStocktake as GET, startStocktake as POST, cancelStocktake as DELETE } from '../../../../server/api/shelves';

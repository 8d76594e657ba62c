-- Stocktakes are runs: the last one of a shelf is found by what it is about.
CREATE INDEX runs_stocktakes ON runs (digest, id) WHERE kind = 'stocktake';

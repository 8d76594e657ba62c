-- What the last check of a crate found that no stocktake sees, in words: it is not whole until a check finds it so. Null: nothing.
ALTER TABLE crates ADD COLUMN found TEXT;

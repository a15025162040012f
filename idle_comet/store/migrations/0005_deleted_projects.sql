-- A deleted project is kept until it is wanted back.
ALTER TABLE projects ADD COLUMN deleted_at TIMESTAMP(3) NULL;

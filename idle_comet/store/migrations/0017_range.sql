-- The range is a part of its own, and to set it is no step of undo.
INSERT INTO parts (project, sort, id, place, body)
  SELECT project, 'range', 'range', 0,
    JSON_OBJECT('first', JSON_EXTRACT(body, '$.first'), 'last', JSON_EXTRACT(body, '$.last'))
  FROM parts WHERE sort = 'marks';

ALTER TABLE edits MODIFY role ENUM('do', 'undo', 'redo', 'passed') NOT NULL;

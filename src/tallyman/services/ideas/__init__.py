"""Ideas: interview and files, review, page and lists, stages."""

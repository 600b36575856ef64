"""Work schedules of a job: from one of its revisions to another, step by step."""

"""Project in, frozen result out; one file per question."""

"""From a garden document and weather to answers: results, verdicts, cures and their working."""

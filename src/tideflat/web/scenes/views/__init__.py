"""Requests on scenes, a module a screen or a verb: read what was asked, do one act or read one stage, answer. No rule of the job is here."""

"""Puts registries, applications, belongings, references and use together to one survey; and answers what is asked of one."""

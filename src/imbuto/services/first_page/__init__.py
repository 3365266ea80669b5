"""The first page: the homes with what each says, and the questions that start a new one."""

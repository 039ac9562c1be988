"""The job: what is wanted, in which metal, by which allowance method, with which tools."""

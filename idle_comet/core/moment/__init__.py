"""What holds at one time: values, where things stand, how clips are drawn and meet."""

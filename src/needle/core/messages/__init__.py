"""What Needle says when it cannot do or take something: values here, words in a catalogue."""

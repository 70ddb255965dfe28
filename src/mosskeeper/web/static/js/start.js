// By itself htmx waits for every module, and would not hear a press before.
htmx.process(document.body);

// Tests open many stores of one project in one process, where they would hear each other as windows do. Those about windows bring a
// channel of their own.
Reflect.deleteProperty(globalThis, "BroadcastChannel");

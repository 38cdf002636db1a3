-- Dump of ils
INSERT INTO `users` (`id`,`login`,`name`,`password`,`mail`) VALUES (1,'kboateng','Kofi Boateng','$2y$10$abcdefghijklmnopqrstuuABCDEFGHIJKLMNOPQRSTUVWXYZ01234','kofi@elsewhere.example');
INSERT INTO patrons (barcode, surname, first_name, dob, pin) VALUES ('21160009917723','Okker','Ilse','1951-04-03','4471'),('21160009918841','Lund','Per','1960-01-02','0912');
CREATE USER 'ilsro'@'10.20.4.%' IDENTIFIED BY 'ro-Heron-9';
COPY public.staff (id, name, phone) FROM stdin;
7	Nadja Virtanen	01632960771
\.

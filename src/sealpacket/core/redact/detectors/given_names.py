"""Given names that tell a person where two words with capitals stand together; none that is a word of its own too."""

from __future__ import annotations

_NAMES = """
aaron abdul abdullah abigail adam adele adrian adriana agata agnes agnieszka ahmed aisha alan alasdair albert alberto alejandra alejandro
alessandro alessandra alexandra alexander alexis alfred alice alicia alina alison alistair allison amanda amelia amelie amina amir amit
amy ana anastasia anders andrea andreas andrei andrew andrzej angela angelika anika anil anita anja anna annabel anne annette annika
anouk anthony anton antonia antonio anya aoife arash ariane arjun arne arnold arthur arturo asha ashley astrid audrey axel ayesha
barbara bart bartosz bastian beata beatrice beatriz ben benedikt benjamin bernadette bernard bernd bertrand beth bethany bettina bianca
birgit bjorn bogdan boris brenda brendan brian bridget brigitte britta bruno bryan caitlin camila camille carina carla carlos carlotta
carmen caroline carsten caspar catalina caterina catherine cecile cecilia celia celine charlotte chiara chloe christa christel christina
christine christoph christophe christopher ciara claire claudia claudio clemens clement colette colin conor constance cornelia
corinna craig cristina cynthia dagmar damian daniel daniela danielle danuta dario darius darren david dawid deborah deepak deirdre
delphine denis denise derek desmond diana diane dieter diego dimitri dirk dmitri dolores dominic dominik dominique donald donna dora
doris dorothea dorothy douglas duncan dylan edith edmund eduardo edward edwin eileen elaine eleanor elena eleni elias elif elijah
elisabeth elise elizabeth ella ellen elliot eloise elsa elsie emil emile emilia emilie emily emma emmanuel enrico enrique eric erica
erik erika erin ernst esme esteban estelle esther ethan eugene eva eve evelyn ewa fabian fabio farah fatima federico felicity felipe
felix ferdinand fernanda fernando filip filippo fiona florian francesca francesco francis francisco franck francois franz frederic
frederick fredrik frieda friedrich gabriel gabriela gabriele gareth gavin gemma genevieve geoffrey george georgia georgina gerald gerard
gerhard gertrud giacomo gianni gilles giorgio giovanna giovanni gisela giulia giuseppe gloria gordon graham greta gregor gregory gudrun
guido guillaume gunnar gustav gwen hamza hana hanna hannah hans harald harold harriet harry hartmut hassan hazel heather hector
heidi heike heinrich heinz helen helena helene helga helmut hendrik henning henri henrietta henrik henry herbert hermann hilary hilda
holger horst howard hubert hugh hugo ian ibrahim ignacio igor ilse imran ines inga inge ingrid irene irina isaac isabel isabella
isabelle ivan jaap jack jacek jackie jacob jacqueline jacques jaime jakob jakub james jan jana jane janet janice janine jarek jasmin
jason javier jean jeffrey jelena jennifer jenny jens jeremy jerome jesper jessica jesus jill jim joachim joan joanna joanne joao joel
johan johann johanna johannes john johnny jolanda jonas jonathan jorge jose josef joseph josephine joshua juan juana juanita judith
julia julian juliana julie julien juliette julius jurgen justin justyna kamil kamran karen karim karin karl karla karolina kasia kate
katarina katarzyna katharina katherine kathleen kathrin kathryn katja katrin kazimierz keith kenneth kerstin kevin khadija kieran kim
kirsten kirsty klaus konrad konstantin krishna kristian kristin kristina krzysztof kurt lakshmi lara lars laura laurence laurent lea
leah lena lennart leo leon leonard leonardo leonie leopold leticia lewis liam lidia lieselotte lina linda lisa liv lorenzo lorraine
lothar lotte louis louise luca lucas lucia lucie lucille lucinda lucy ludwig luis luisa luke lukas lutz lydia lynn maciej madeleine
magdalena magnus mahmoud maja malcolm malgorzata manfred manon manuel manuela mara marc marcel marcella marcin marco marcus marek
margaret margarita margit margot marguerite maria mariam marian mariana marianne marie marieke marija marika marina mario marion marit
marius marjorie marlene marta martha martin martina martine maryam mateo mateusz matteo matthew matthias matthieu maureen maurice
maurizio mauro maxime megan mehmet melanie melissa mia michael michal michel michele michelle miguel mihai mikael mikhail milan
milena milos miriam mirjam mohamed mohammad mohammed moira monica monika monique moritz muhammad mustafa myriam nadia nadine nancy
naomi natalia natalie natasha nathalie nathan neil nicholas nicola nicolas nicole nigel nikita niklas nikola nikolai nikolaus nils
nina noah noel noemi nora norbert norman odette odile olaf oleg olga oliver olivia olivier omar orla oscar osman oswald otto pablo
padraig pamela paola paolo pascal patricia patrick patrik paul paula paulina pauline paulo pavel pawel pedro peggy penelope petar
peter petra philip philipp philippa philippe phoebe phyllis pierre pieter piotr priya rachel rafael rafal raimund rainer raj rajesh ralf
ralph ramon raoul raphael raquel rashid raul ravi raymond rebecca regina reinhard renate renata rene ricardo riccardo richard rita
robert roberta roberto roderick rodrigo roger roland rolf roman ronald rosa rosalind rosemary rosie rory rowan roxanne ruben rudolf
rupert russell ruth ryan sabine sabrina salma salvatore samantha samir samuel sandra sanjay sara sarah saskia scott sean sebastian
selina serena serge sergei sergio shannon sharon sheila shirin shirley siegfried sigrid silke silvia simon simona simone siobhan sofia
sofie solveig sonia sonja sophia sophie stanislaw stefan stefania stefanie stella stephan stephanie stephen steve steven stuart sunil
susan susana susanna susanne suzanne svein sven svenja svetlana swen sybille sylvain sylvia sylvie tadeusz tamara tanja tanya tara
tariq tatiana ted teo teresa terence tess thea theo theodor theodora theodore theresa therese thierry thilo thomas thorsten tiago 
tilman tim timo timothy tina tobias tom tomas tomasz tommaso torben torsten tracy tristan udo ulrich ulrike ursula ute uwe valentina
valerie vanessa vera veronica veronika veronique vicky victoria viktor viktoria vincent vincenzo viola virginia vivian vivienne vladimir
volker waldemar walter waltraud wendy werner wiebke wilfried wilhelm willem william wojciech wolfgang xavier yann yannick yasmin yolanda
youssef yuri yusuf yves yvette yvonne zainab zara zoe zofia zuzana
"""
GIVEN_NAMES = frozenset(_NAMES.encode().split())


def is_someones_name(value: bytes) -> bool:
    """Whether the first of some words is a given name."""
    return value.lower().replace(b"-", b" ").split()[0] in GIVEN_NAMES

import type { Person } from '../api/types';

/** Whether somebody makes and changes plans, classes, sites and procedures: engineers and supervisors. */
export const engineers = (person: Person): boolean => person.role === 'engineer' || person.role === 'supervisor';

/** Whether somebody shares out the work of others: hours, absences, authorisations, access, outages. */
export const sharesOut = (person: Person): boolean => person.role === 'supervisor';

/** Whether somebody carries out tests and decides about their own jobs. */
export const works = (person: Person): boolean => person.role === 'technician' || engineers(person);

/** Whether somebody looks after people and the installation. */
export const administers = (person: Person): boolean => person.role === 'administrator';
